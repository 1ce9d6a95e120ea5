import { Button, Select, Space } from "antd";
import { useEffect, useRef, useState } from "react";

import type { OneEdit, Probe, SlipView, StepView } from "../../api/client";
import { post, reason } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { feed } from "../../state/samples";
import { exact, shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";

/** Finds the factor of least slip for a formula of the part, and brings it in. */
export function Fit({ probe, first, last }: { probe: Probe; first: number; last: number }) {
  const edit = useEdit();
  const preview = usePreview();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const part = useOpenScene((scene) => scene.parts[probe.part]);
  const formulas = part?.steps.filter(({ settings }) => settings.kind === "formula" && settings.channel.startsWith("rotation.")) ?? [];
  const [wanted, setWanted] = useState<string | null>(null);
  const [span, setSpan] = useState<[number, number]>([first, last]);
  const revision = useOpenScene((scene) => scene.header.revision);
  // What was found is of the scene as it was then.
  const [found, setFound] = useState<{ revision: number; fit: SlipView["fit"] } | null>(null);
  const fit = found?.revision === revision ? found.fit : null;
  const [problem, setProblem] = useState("");
  const step = formulas.find(({ id }) => id === wanted) ?? formulas[0];
  if (step?.settings.kind !== "formula") {
    if (!probe.rolling) return null;
    return <span style={{ color: ink.quiet, fontSize: 12 }}>Give {part?.name} a formula that turns it, then fit its factor here.</span>;
  }
  const settings = step.settings;
  const find = async () => {
    try {
      const { fit } = await post<SlipView>(`/api/scenes/${String(sceneId)}/slip`, { probe: probe.id, first: span[0], last: span[1], step: step.id, trying: feed.allTried() });
      setFound({ revision, fit });
      setProblem("");
    } catch (error) {
      setFound(null);
      setProblem(reason(error));
    }
  };
  const edited = (text: string): OneEdit => ({ do: "change step", step: step.id, settings: { ...settings, kind: "formula" as const, text } });
  const take = (text: string) => { void edit(edited(text)); };
  return (
    <div style={{ ...column, borderTop: `1px solid ${ink.line}`, paddingTop: 5 }}>
      <Space size={3}>
        <Button size="small" title="Finds the factor, and its sign, for which the point slips least over these frames" onClick={() => void find()}>Fit</Button>
        <Select size="small" aria-label="Formula to fit" popupMatchSelectWidth={false} style={{ width: 84 }} value={step.id} options={formulas.map(({ id, name }) => ({ value: id, label: name }))} onChange={setWanted} />
        <NumberField label="Fit from frame" value={span[0]} text={String(span[0])} step={1} width={42} onCommit={(value) => { setSpan([Math.round(value), span[1]]); }} />
        <NumberField label="Fit to frame" value={span[1]} text={String(span[1])} step={1} width={46} onCommit={(value) => { setSpan([span[0], Math.round(value)]); }} />
      </Space>
      {problem && <span role="alert" style={{ color: ink.trouble, fontSize: 12 }}>{problem}</span>}
      {fit && (
        <div role="status" style={{ ...column, fontSize: 12 }}>
          <span>factor <span className="mono">{shown(fit.factor, "", 6)}</span>: slip <span className="mono" style={{ whiteSpace: "nowrap" }}>{shown(fit.before, "m")} → {shown(fit.after, "m")}</span></span>
          {fit.reasons.map((text) => <span key={text} style={{ color: ink.doubtful }}>▲ {text}</span>)}
          <Button size="small" style={wrapped} title={fit.text} {...preview(edited(fit.text))} onClick={() => { take(fit.text); }}>
            Use <span className="mono" style={{ fontSize: 11, wordBreak: "break-all" }}>{fit.text}</span>
          </Button>
          {fit.alike > 1 && fit.place !== null && fit.value !== null && <Alike step={step} place={fit.place} value={fit.value} count={fit.alike} preview={preview} />}
          {fit.exact && (
            <Button size="small" style={wrapped} title="From the radius and the true distance" {...preview(edited(fit.exact))} onClick={() => { take(fit.exact ?? ""); }}>
              Use <span className="mono" style={{ fontSize: 11, wordBreak: "break-all" }}>{fit.exact}</span>
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

// As wide as the card, whatever stands in it.
const column = { display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 4 } as const;
const wrapped = { height: "auto", whiteSpace: "normal" } as const;

/** The fitted number in all formulas that are alike. */
function Alike({ step, place, value, count, preview }: { step: StepView; place: number; value: number; count: number; preview: ReturnType<typeof usePreview> }) {
  const edit = useEdit();
  const made: OneEdit = { do: "change number", step: step.id, place, value, alike: true };
  return (
    <Button
      size="small"
      style={wrapped}
      title="The same number in all formulas of that name that are the same but for numbers and what they read"
      {...preview(made)}
      onClick={() => void edit(made)}
    >
      Use {exact(value)} in all {count} alike
    </Button>
  );
}

/** Shows what an edit would do while the pointer is over its button, and no longer than the button is
 * there. */
function usePreview() {
  const over = useRef(false);
  const show = (edits: OneEdit[]) => {
    over.current = edits.length > 0;
    feed.tryOut(edits);
  };
  useEffect(() => () => { if (over.current) feed.tryOut([]); }, []);
  return (edit: OneEdit) => ({ onMouseEnter: () => { show([edit]); }, onMouseLeave: () => { show([]); } });
}
