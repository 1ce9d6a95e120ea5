import { useOpenScene } from "../state/openScene";
import { chooseChannel, choosePart } from "../state/selection";
import { ink } from "../shared/theme";

/** How many of what was found are listed. */
const most = 200;

export interface Found {
  text: string;
  choose: () => void;
}

/** Parts and channels with a name like that; with a dot, channels by part and channel. */
export function findings(search: string): Found[] {
  const scene = useOpenScene.getState();
  const words = search.toLowerCase().trim();
  const found: Found[] = [];
  for (const id of scene.order) {
    const part = scene.parts[id];
    if (!part) continue;
    if (part.name.toLowerCase().includes(words)) {
      found.push({ text: part.name, choose: () => { choosePart(id); } });
    }
    for (const channel of part.channels) {
      const text = `${part.name}.${channel.name}`;
      const wanted = words.includes(".") ? text : channel.name;
      if (wanted.toLowerCase().includes(words)) {
        found.push({ text, choose: () => { chooseChannel(id, channel.id); } });
      }
    }
    if (found.length >= most) break;
  }
  return found;
}

/** What was found, in the place of the tree: a click chooses it. */
export function FoundList({ found }: { found: Found[] }) {
  if (!found.length) return <p style={{ padding: 12, color: ink.quiet }}>Nothing has that name.</p>;
  return (
    <ul style={{ listStyle: "none", margin: 0, padding: "0 8px" }} aria-label="Found">
      {found.map(({ text, choose }) => (
        <li key={text}>
          <button
            type="button"
            onClick={choose}
            style={{ all: "unset", cursor: "pointer", display: "block", padding: "4px 6px" }}
          >
            {text}
          </button>
        </li>
      ))}
      {found.length >= most && <li style={{ padding: "4px 6px", color: ink.quiet }}>There may be more: type on.</li>}
    </ul>
  );
}
