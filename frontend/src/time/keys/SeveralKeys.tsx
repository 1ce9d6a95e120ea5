import { Input, Space } from "antd";
import { useState } from "react";

import type { OneEdit } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import type { KeyPick } from "../../state/selection";
import { chooseKeys } from "../../state/selection";
import { typed } from "../../shared/arithmetic";
import { Hint } from "../../shared/Hint";
import { useHeld } from "../../shared/useHeld";
import { ink } from "../../shared/theme";
import { inUnits, meant } from "../../shared/units";
import { movedPicks, pickedLook } from "./keyCommands";

/** Several chosen keys in numbers: `+5` and `*2` change them, a number brings them there. */
export function SeveralKeys({ picks, count }: { picks: KeyPick[]; count: number }) {
  const edit = useEdit();
  const look = pickedLook(picks);
  const first = Math.min(...picks.flatMap(({ frames }) => frames));
  const onFrames = async (sign: string, number: number) => {
    const shift = sign === "+" ? number : sign === "-" ? -number : number - first;
    if (sign === "*" || sign === "/") {
      const factor = sign === "*" ? number : 1 / number;
      if (await edit({ do: "scale time", picks, about: first, factor })) chooseKeys([]);
    } else if (await edit({ do: "move keys", picks, frames: shift })) {
      chooseKeys(movedPicks(picks, shift));
    }
  };
  const onValues = async (sign: string, number: number) => {
    const scaled = (factor: number, value: number): OneEdit => ({ do: "scale values", picks, factor, about: "value", value });
    const value = meant(number, look);
    if (sign === "+" || sign === "-") {
      await edit({ do: "move keys", picks, value: sign === "+" ? value : -value });
    } else if (sign) await edit(scaled(sign === "*" ? number : 1 / number, 0));
    else await edit(scaled(0, value));
  };
  return (
    <Space size={5}>
      <strong>{count} keys</strong>
      <Changes key={`frames ${String(first)}`} label="Frames of the keys" word="frames" start={`${String(first)}…`} read={(text) => typed(text, 0)} onChange={onFrames} />
      <Changes label="Values of the keys" word="values" start="" read={(text, sign) => typed(sign === "*" || sign === "/" ? text : inUnits(text, look), 0)} onChange={onValues} />
    </Space>
  );
}

const narrow = 58;

interface ChangesProps {
  label: string;
  word: string;
  start: string;
  /** The number of what was typed behind the sign. */
  read: (text: string, sign: string) => number | undefined;
  onChange: (sign: string, number: number) => Promise<void>;
}

/** What was typed: a sign, where one is, and the number behind it; undefined where that is none. */
function signed(text: string, read: ChangesProps["read"]): { sign: string; number: number | undefined } {
  const [, mark = "", rest = ""] = /^\s*([-+*/]=|[+*/])?(.*)$/.exec(text) ?? [];
  const sign = mark.charAt(0);
  const found = read(rest, sign);
  // By nothing, nothing can be divided.
  return { sign, number: sign === "/" && found === 0 ? undefined : found };
}

function Changes({ label, word, start, read, onChange }: ChangesProps) {
  // Leaving comes in the same moment as Enter and Esc, before anything is drawn again.
  const { held, drawn, hold } = useHeld<string>();
  const text = drawn ?? "";
  const [typing, setTyping] = useState(false);
  const wrong = text.trim() !== "" && signed(text, read).number === undefined;
  const leave = () => {
    setTyping(false);
    const { sign, number } = signed(held.current ?? "", read);
    hold(null);
    if (number !== undefined) void onChange(sign, number);
  };
  return (
    <>
      <span style={{ color: ink.quiet, marginRight: 4 }}>{word}</span>
      <Hint title="+5 adds, *2 multiplies, -=5 takes away; a number brings them there">
        <span style={{ display: "inline-block", position: "relative", width: narrow, height: 24, verticalAlign: "middle" }}>
          <Input
            size="small"
            className="mono"
            aria-label={label}
            aria-invalid={wrong}
            status={wrong ? "error" : ""}
            placeholder={start || "+5 *2"}
            // What is typed is seen whole: the field grows over what stands beside it.
            style={{ position: "absolute", zIndex: 1, width: typing ? Math.max(narrow, 20 + 8 * text.length) : narrow }}
            value={text}
            onFocus={() => { setTyping(true); }}
            onBlur={leave}
            onChange={(event) => { hold(event.target.value); }}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === "Escape") hold(null);
              if (event.key === "Escape" || (event.key === "Enter" && !wrong)) event.currentTarget.blur();
            }}
          />
        </span>
      </Hint>
    </>
  );
}
