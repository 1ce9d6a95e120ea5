import { keepPreviousData, useQuery } from "@tanstack/react-query";

import type { PointView, SurfaceHead } from "../../api/client";
import { get, reason } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { useLooked } from "../../state/surfaces";
import { shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";

/** What became of one point of the finished surface: where it came from, what each step did to it. */
export function PointAccount({ surface }: { surface: SurfaceHead }) {
  const point = useLooked((looked) => looked.point);
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const frame = usePlayer((player) => player.frame);
  const playing = usePlayer((player) => player.playing);
  const { data, error } = useQuery({
    queryKey: ["point", sceneId, surface.id, point, frame, revision],
    queryFn: () => get<PointView>(`/api/scenes/${String(sceneId)}/surfaces/${surface.id}/point?point=${String(point)}&frame=${String(frame)}`),
    enabled: point !== null && !playing,
    placeholderData: keepPreviousData,
    retry: false,
  });
  return (
    <section aria-label="Account of a point" style={{ borderTop: `1px solid ${ink.line}`, paddingTop: 8, paddingLeft: 4, display: "grid", gap: 4 }}>
      <div style={{ display: "flex", alignItems: "center", gap: 6 }}>
        <span className="caps" style={{ flex: 1 }}>point</span>
        <NumberField label="Point of the surface" value={point ?? 0} text={point === null ? "—" : String(point)} step={1} width={66} meant onCommit={(value) => { useLooked.setState({ point: Math.max(Math.round(value), 0) }); }} />
      </div>
      {point === null ? (
        <span style={{ color: ink.quiet, fontSize: 12 }}>Click the surface in the view, or write a point’s number, to see what each step did to it.</span>
      ) : error ? (
        <span role="alert" style={{ color: ink.trouble }}>{reason(error)}</span>
      ) : data ? (
        <Steps surface={surface} account={data} />
      ) : null}
    </section>
  );
}

function Steps({ surface, account }: { surface: SurfaceHead; account: PointView }) {
  const name = (id: string | null) => (id === null ? "cage" : (surface.steps.find((step) => step.id === id)?.name ?? id));
  const made = account.made_of.slice(0, 4).map(([point, share]) => `${String(point)} (${(share * 100).toFixed(0)} %)`);
  const cell = { padding: "1px 4px", textAlign: "right", whiteSpace: "nowrap" } as const;
  return (
    <>
      <span style={{ fontSize: 12, color: ink.quiet }}>
        {account.made_of.length === 1 ? `point ${String(account.made_of[0]?.[0])} of the cage` : `made of the cage’s ${made.join(", ")}${account.made_of.length > 4 ? ` and ${String(account.made_of.length - 4)} more` : ""}`}
      </span>
      <table aria-label="What each step did to the point" style={{ fontSize: 11.5, borderCollapse: "collapse", width: "100%" }}>
        <thead>
          <tr style={{ color: ink.quiet }}>
            <th style={{ ...cell, textAlign: "left", fontWeight: 400 }}>after</th>
            {["x", "y", "z", "moved"].map((one) => <th key={one} style={{ ...cell, fontWeight: 400 }}>{one}</th>)}
          </tr>
        </thead>
        <tbody>
          {account.steps.map((step) => (
            <tr key={step.step ?? "cage"} style={{ borderTop: `1px solid ${ink.line}` }}>
              <td title={step.world ? "in the world" : "in the part’s axes"} style={{ ...cell, textAlign: "left", overflow: "hidden", textOverflow: "ellipsis", maxWidth: 82 }}>{name(step.step)}</td>
              {step.after.map((value, n) => <td key={n} className="mono" style={cell}>{shown(value)}</td>)}
              <td className="mono" style={{ ...cell, fontWeight: step.moved ? 600 : 400 }}>{step.step === null ? "" : step.moved === null ? "into world" : `${shown(step.moved * 1000, "", 1)} mm`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
