import { BoxGeometry, EdgesGeometry, Group, LineSegments, Mesh } from "three";
import { Line2, LineGeometry, LineMaterial, LineSegments2, LineSegmentsGeometry } from "three-stdlib";
import { expect, it } from "vitest";

import { withPlainLines } from "./plainLines";

it("draws outlines plainly, end for end, and brings the wide ones back", () => {
  const edges = new EdgesGeometry(new BoxGeometry(1, 2, 3));
  const outline = new LineSegments2(new LineSegmentsGeometry().fromEdgesGeometry(edges), new LineMaterial({ color: 0x336699 }));
  const way = new Line2(new LineGeometry().setPositions([0, 0, 0, 1, 0, 0]), new LineMaterial());
  const hidden = new LineSegments2(outline.geometry, outline.material);
  hidden.visible = false;
  const body = new Mesh();
  const scene = new Group().add(body.add(outline, hidden), way);
  const back = withPlainLines(scene);
  expect([outline.visible, way.visible, hidden.visible]).toEqual([false, true, false]);
  const plain = body.children.find((one): one is LineSegments => one instanceof LineSegments);
  expect(plain?.geometry.getAttribute("position").count).toBe(24);
  expect([...(plain?.geometry.getAttribute("position").array ?? [])]).toEqual([...edges.getAttribute("position").array]);
  back();
  expect([outline.visible, hidden.visible]).toEqual([true, false]);
  expect(body.children).toEqual([outline, hidden]);
});
