import { Button, Checkbox } from "antd";
import { useEffect, useState } from "react";

import type { OrdersView, SurfaceHead } from "../../api/client";
import { post, reason } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { goTo } from "../../state/player";
import { lookAtOrder, useLooked } from "../../state/surfaces";
import { useCommand } from "../../state/useEdit";
import { shown } from "../../shared/format";
import { moved } from "../../shared/moved";
import { ink } from "../../shared/theme";

interface Choice {
  order: string[];
  left: string[];
}

/** A second order of a surface's steps beside the one it has: how far apart they are, and why. */
export function Orders({ surface }: { surface: SurfaceHead }) {
  const command = useCommand();
  const other = useLooked((looked) => looked.other);
  const [choice, setChoice] = useState<Choice>(() => ({ order: surface.steps.map((step) => step.id), left: surface.steps.filter((step) => !step.on).map((step) => step.id) }));
  const name = (id: string) => surface.steps.find((step) => step.id === id)?.name ?? id;
  const choose = (next: Choice) => {
    setChoice(next);
    lookAtOrder(next.order.filter((id) => !next.left.includes(id)));
  };
  if (other === null) {
    return (
      <section aria-label="Two orders" style={{ borderTop: `1px solid ${ink.line}`, paddingTop: 8, paddingLeft: 4 }}>
        <Button size="small" disabled={surface.steps.length < 2} title="A second order of the same steps, drawn beside this one, with the distance as colour and in numbers" onClick={() => { choose(choice); }}>Compare with another order…</Button>
      </section>
    );
  }
  const take = () => {
    const muted = surface.steps.filter((step) => step.on === choice.left.includes(step.id));
    void command(
      () => { lookAtOrder(null); },
      { do: "order deforms", surface: surface.id, order: choice.order },
      ...muted.map((step) => ({ do: "change deform" as const, surface: surface.id, step: step.id, on: !step.on })),
    );
  };
  return (
    <section aria-label="Two orders" style={{ borderTop: `1px solid ${ink.line}`, paddingTop: 8, paddingLeft: 4, display: "grid", gap: 4 }}>
      <span className="caps">another order</span>
      {choice.order.map((id, n) => (
        <div key={id} style={{ display: "flex", alignItems: "center", gap: 4, height: 22 }}>
          <Checkbox checked={!choice.left.includes(id)} onChange={() => { choose({ ...choice, left: choice.left.includes(id) ? choice.left.filter((one) => one !== id) : [...choice.left, id] }); }} style={{ flex: 1 }}>{name(id)}</Checkbox>
          {n > 0 && <Button type="text" size="small" style={{ width: 20, height: 18 }} aria-label={`In the other order, ${name(id)} earlier`} onClick={() => { choose({ ...choice, order: moved(choice.order, n, n - 1) }); }}>↑</Button>}
          {n < choice.order.length - 1 && <Button type="text" size="small" style={{ width: 20, height: 18 }} aria-label={`In the other order, ${name(id)} later`} onClick={() => { choose({ ...choice, order: moved(choice.order, n, n + 1) }); }}>↓</Button>}
        </div>
      ))}
      <Apart surface={surface} other={other} />
      <div style={{ display: "flex", gap: 4 }}>
        <Button size="small" onClick={take} title="The surface’s steps get this order">Take this order</Button>
        <Button size="small" onClick={() => { lookAtOrder(null); }}>Close</Button>
      </div>
    </section>
  );
}

const chunk = 24;

/** Both orders over the whole range, some frames at a time, so that it tells how far it has come and what
 * it has found; another order, or leaving, ends it. */
function useApart(surface: SurfaceHead, other: string[]) {
  const { sceneId, header } = useOpenScene.getState();
  const revision = useOpenScene((scene) => scene.header.revision);
  const [found, setFound] = useState<OrdersView | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const one = surface.steps.filter((step) => step.on).map((step) => step.id).join(" ");
  const second = other.join(" ");
  useEffect(() => {
    let ended = false;
    const run = async () => {
      let sum: OrdersView | null = null;
      for (let first = header.first; first <= header.last && !ended; first += chunk) {
        const wish = { one: one.split(" ").filter(Boolean), other: second.split(" ").filter(Boolean), first, last: Math.min(first + chunk - 1, header.last) };
        const next = await post<OrdersView>(`/api/scenes/${String(sceneId)}/surfaces/${surface.id}/orders`, wish);
        sum = sum ? together(sum, next) : next;
        if (!ended) setFound(sum);
      }
    };
    setFound(null);
    setProblem(null);
    run().catch((error: unknown) => { if (!ended) setProblem(reason(error)); });
    return () => { ended = true; };
  }, [sceneId, header.first, header.last, surface.id, revision, one, second]);
  return { found, problem, count: header.last - header.first + 1 };
}

function together(a: OrdersView, b: OrdersView): OrdersView {
  const frames = a.frames + b.frames;
  const mean = (a.mean * a.frames + b.mean * b.frames) / frames;
  return { ...(b.worst > a.worst ? b : a), mean, frames };
}

function Apart({ surface, other }: { surface: SurfaceHead; other: string[] }) {
  const { found, problem, count } = useApart(surface, other);
  if (problem) return <span role="alert" style={{ color: ink.trouble, fontSize: 12 }}>{problem}</span>;
  if (!found) return <span role="status" style={{ color: ink.quiet }}>Both are being computed …</span>;
  const mm = (metres: number) => `${shown(metres * 1000, "", 2)} mm`;
  return (
    <div aria-label="How far apart" style={{ display: "grid", gap: 4, fontSize: 12 }}>
      <span role="status" style={{ color: ink.quiet }}>{found.frames < count ? `${String(found.frames)} of ${String(count)} frames` : `over all ${String(count)} frames`}</span>
      <span className="mono">mean {mm(found.mean)} · worst {mm(found.worst)}</span>
      {found.worst > 1e-9 ? (
        <button type="button" className="bare" style={{ textAlign: "left", textDecoration: "underline dotted" }} onClick={() => { goTo(found.frame); useLooked.setState({ point: found.point }); }}>point {found.point} on frame {found.frame}</button>
      ) : (
        <span>Both come to the same.</span>
      )}
      <span aria-hidden style={{ height: 8, borderRadius: 3, background: `linear-gradient(90deg, ${ink.even}, ${ink.trouble})` }} />
      <span style={{ display: "flex", color: ink.quiet }}><span style={{ flex: 1 }}>the same</span><span>farthest on this frame</span></span>
      {found.words.map((text) => <p key={text} style={{ margin: 0 }}>{text}</p>)}
    </div>
  );
}
