import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import type { Mesh } from "three";
import { BufferAttribute, BufferGeometry, Color, DoubleSide, Matrix4, Vector3 } from "three";

import type { SurfaceHead } from "../api/client";
import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import { useWants } from "../state/samples";
import { useShowing } from "../state/showing";
import type { SurfaceShown } from "../state/surfacePoints";
import { SurfacePoints, surfaceWants } from "../state/surfacePoints";
import { useSurfaceCosts } from "../state/surfaceCosts";
import { chooseSurface, useLooked } from "../state/surfaces";
import { ink } from "../shared/theme";
import { wasDrag } from "./clicks";
import { isSeen } from "./world";

/** All surfaces on the playhead's frame; the one that is looked at beside its second order. */
export function Surfaces() {
  const surfaces = useOpenScene((scene) => scene.header.surfaces);
  const hidden = useShowing((showing) => showing.hidden);
  const isolated = useShowing((showing) => showing.isolated);
  const drawn = surfaces.filter(({ part }) => !hidden.includes(part) && (isolated === null || isolated.includes(part)));
  return drawn.map((surface) => <SurfaceBody key={surface.id} surface={surface} />);
}

const even = new Color(ink.even);
const far = new Color(ink.trouble);

function SurfaceBody({ surface }: { surface: SurfaceHead }) {
  const invalidate = useThree((three) => three.invalidate);
  const chosen = useLooked((looked) => looked.surface === surface.id);
  const other = useLooked((looked) => (looked.surface === surface.id ? looked.other : null));
  const point = useLooked((looked) => (looked.surface === surface.id ? looked.point : null));
  const points = useMemo(() => new SurfacePoints(surface.id, invalidate), [surface.id, invalidate]);
  useEffect(() => () => { points.end(); }, [points]);
  useWants(useMemo(() => surfaceWants(surface), [surface]));
  useEffect(() => { invalidate(); }, [surface, other, point, chosen, invalidate]);
  const first = useForm();
  const second = useForm();
  const one = useRef<Mesh>(null);
  const beside = useRef<Mesh>(null);
  const dot = useRef<Mesh>(null);
  useFrame(({ camera }) => {
    const shown = points.at(usePlayer.getState().frame, surface, other);
    useSurfaceCosts.getState().set(surface.id, points.costs, points.problem);
    if (!shown || !one.current) return;
    one.current.visible = isSeen(surface.part);
    put(first, shown.points, shown, other !== null);
    if (beside.current) {
      beside.current.visible = other !== null && shown.other !== null && one.current.visible;
      if (shown.other && other) {
        put(second, shown.other, shown, true);
        beside.current.position.copy(besideOf(shown.points, camera.matrixWorld));
      }
    }
    if (dot.current) {
      const at = (point ?? 0) * 3;
      dot.current.visible = chosen && point !== null && at + 2 < shown.points.length;
      dot.current.position.set(...([0, 1, 2].map((n) => shown.points[at + n] ?? 0) as [number, number, number]));
      dot.current.scale.setScalar(Math.max(widthOf(shown.points) * 0.012, 0.002));
    }
  });
  const colour = other ? "#FFFFFF" : surface.colour;
  const paint = <meshLambertMaterial key={other ? "apart" : "plain"} color={colour} vertexColors={other !== null} side={DoubleSide} />;
  return (
    <group>
      <mesh ref={one} geometry={first.geometry} frustumCulled={false} onClick={(event) => {
        if (wasDrag(event)) return;
        event.stopPropagation();
        chooseSurface(surface.id, nearest(first, event.face ? [event.face.a, event.face.b, event.face.c] : [], event.point));
      }}>
        {paint}
        {chosen && <lineSegments geometry={first.lines} frustumCulled={false}><lineBasicMaterial color={ink.picked} transparent opacity={0.45} /></lineSegments>}
      </mesh>
      <mesh ref={beside} geometry={second.geometry} frustumCulled={false} visible={false}>{paint}</mesh>
      <mesh ref={dot} visible={false} renderOrder={6}><sphereGeometry args={[1, 12, 8]} /><meshBasicMaterial color={ink.picked} depthTest={false} transparent /></mesh>
    </group>
  );
}

interface Form {
  geometry: BufferGeometry;
  lines: BufferGeometry;
  mesh: string;
}

function useForm(): Form {
  const form = useMemo<Form>(() => ({ geometry: new BufferGeometry(), lines: new BufferGeometry(), mesh: "" }), []);
  useEffect(() => () => {
    form.geometry.dispose();
    form.lines.dispose();
  }, [form]);
  return form;
}

/** Puts points on a form, and colours them by how far the two orders are apart. */
function put(form: Form, points: Float32Array, { mesh, apart }: SurfaceShown, coloured: boolean) {
  const { geometry, lines } = form;
  if (form.mesh !== mesh.key || geometry.getAttribute("position").count * 3 !== points.length) {
    form.mesh = mesh.key;
    const position = new BufferAttribute(new Float32Array(points), 3);
    geometry.setAttribute("position", position);
    geometry.setAttribute("color", new BufferAttribute(new Float32Array(points.length).fill(1), 3));
    geometry.setIndex(new BufferAttribute(mesh.triangles, 1));
    lines.setAttribute("position", position);
    lines.setIndex(new BufferAttribute(mesh.edges, 1));
  }
  const position = geometry.getAttribute("position") as BufferAttribute;
  (position.array as Float32Array).set(points);
  position.needsUpdate = true;
  geometry.computeVertexNormals();
  geometry.computeBoundingSphere();
  if (!coloured || !apart) return;
  const colours = geometry.getAttribute("color") as BufferAttribute;
  const worst = apart.reduce((most, one) => Math.max(most, one), 1e-12);
  const mix = new Color();
  apart.forEach((one, n) => {
    mix.lerpColors(even, far, one / worst);
    colours.setXYZ(n, mix.r, mix.g, mix.b);
  });
  colours.needsUpdate = true;
}

function nearest({ geometry }: Form, corners: number[], to: Vector3): number | null {
  const position = geometry.getAttribute("position");
  const away = (corner: number) => new Vector3().fromBufferAttribute(position, corner).distanceToSquared(to);
  return corners.toSorted((a, b) => away(a) - away(b))[0] ?? null;
}

/** Where a second one stands that hides nothing of the first: across its length as the camera sees it, upwards. */
function besideOf(points: Float32Array, camera: Matrix4): Vector3 {
  const [right, up] = [0, 1].map((n) => new Vector3().setFromMatrixColumn(camera, n).normalize()) as [Vector3, Vector3];
  const seen: [number, number][] = [];
  for (let n = 0; n < points.length; n += 3) {
    const at = new Vector3(points[n], points[n + 1], points[n + 2]);
    seen.push([at.dot(right), at.dot(up)]);
  }
  const [x, y] = across(seen);
  const along = seen.map(([a, b]) => a * x + b * y);
  const size = Math.max(...along) - Math.min(...along);
  return right.multiplyScalar(x).addScaledVector(up, y).multiplyScalar(size * 1.3);
}

/** The direction in which points of a plane are spread least, upwards: the lesser axis of their covariance. */
function across(points: [number, number][]): [number, number] {
  const mean = [0, 1].map((n) => points.reduce((sum, point) => sum + (point[n] ?? 0), 0) / points.length);
  let [xx, xy, yy] = [0, 0, 0];
  for (const [a, b] of points) {
    const [x, y] = [a - (mean[0] ?? 0), b - (mean[1] ?? 0)];
    xx += x * x;
    xy += x * y;
    yy += y * y;
  }
  const angle = Math.atan2(2 * xy, xx - yy) / 2 + Math.PI / 2;
  const [x, y] = [Math.cos(angle), Math.sin(angle)];
  return y < 0 ? [-x, -y] : [x, y];
}

/** The longest side of the box around points. */
function widthOf(points: Float32Array): number {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  points.forEach((one, n) => {
    low[n % 3] = Math.min(low[n % 3] ?? one, one);
    high[n % 3] = Math.max(high[n % 3] ?? one, one);
  });
  return Math.max(...high.map((one, n) => one - (low[n] ?? 0)), 0);
}
