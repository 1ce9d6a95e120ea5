import type { WordsView } from "../state/order";
import { useAbout } from "../state/order";
import { useOpenScene } from "../state/openScene";
import { goTo, usePlayer } from "../state/player";
import { chooseStep } from "../state/selection";
import type { Tap } from "../shared/taps";
import { tapColour } from "../shared/tapColours";
import { ink } from "../shared/theme";

/** Over the range, which step decided the channel's value on each frame. */
export function LastWord({ part, channel }: { part: string; channel: string }) {
  const query = new URLSearchParams({ part, channel }).toString();
  const { data } = useAbout<WordsView>("words", `?${query}`);
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const frame = usePlayer((player) => player.frame);
  const share = (f: number) => `${String((100 * (f - first)) / Math.max(last - first + 1, 1))}%`;
  return (
    <div style={{ padding: "0 12px 6px" }}>
      <div style={{ fontSize: 11, color: ink.quiet, marginBottom: 2 }}>last word</div>
      <div role="group" aria-label="Last word" style={{ position: "relative", height: 16, border: `1px solid ${ink.line}`, borderRadius: 3, overflow: "hidden", background: ink.field }}>
        {data?.words.map((word) => (
          <button
            key={word.first}
            type="button"
            aria-label={`${word.name} from ${String(word.first)} to ${String(word.last)}`}
            title={`${word.name} (${word.zone}) decides from ${String(word.first)} to ${String(word.last)}`}
            onClick={() => {
              goTo(word.first);
              chooseStep(word.step);
            }}
            style={{ all: "unset", boxSizing: "border-box", cursor: "pointer", position: "absolute", top: 0, height: 16, left: share(word.first), width: share(word.last + 1 - word.first + first), borderLeft: `3px solid ${tapColour[word.zone as Tap]}`, background: frame >= word.first && frame <= word.last ? ink.chosen : ink.panel }}
          >
          </button>
        ))}
        <span aria-hidden style={{ position: "absolute", left: share(frame + 0.5), top: 0, bottom: 0, width: 1, background: ink.now }} />
      </div>
      <Names words={data?.words ?? []} />
    </div>
  );
}

/** Who they are, each with its stretches; a click goes to the first. */
function Names({ words }: { words: WordsView["words"] }) {
  const frame = usePlayer((player) => player.frame);
  const names = [...new Set(words.map(({ name }) => name))];
  return (
    <div style={{ display: "flex", flexWrap: "wrap", columnGap: 10, fontSize: 11 }}>
      {names.map((name) => {
        const own = words.filter((word) => word.name === name);
        const [one] = own;
        if (!one) return null;
        const here = own.some((word) => frame >= word.first && frame <= word.last);
        const stretches = own.map((word) => (word.first === word.last ? String(word.first) : `${String(word.first)}–${String(word.last)}`));
        return (
          <button
            key={name}
            type="button"
            className="bare"
            title={`${name} decides at ${stretches.join(", ")}`}
            onClick={() => {
              goTo(one.first);
              chooseStep(one.step);
            }}
            style={{ fontWeight: here ? 600 : 400, maxWidth: "100%", overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}
          >
            <span style={{ color: tapColour[one.zone as Tap] }}>▍</span>{name} <span className="mono" style={{ color: ink.quiet }}>{stretches.slice(0, 3).join(", ")}{stretches.length > 3 ? " …" : ""}</span>
          </button>
        );
      })}
    </div>
  );
}
