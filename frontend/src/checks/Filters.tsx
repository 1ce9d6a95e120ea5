import { Button, Space } from "antd";
import { useState } from "react";

import { useLooking } from "../state/checks";
import { useOpenScene } from "../state/openScene";
import { Amount, Apply } from "../shared/Amount";
import { isNumber, typed } from "../shared/arithmetic";
import { Popup } from "../shared/Popup";

/** Which findings are shown: of which parts, in which frames, of which check, of which severities. */
export function Filters() {
  const { check, mine, span, hidden } = useLooking();
  const { first, last } = useOpenScene((scene) => scene.header);
  const [from, to] = span ?? [first, last];
  return (
    <>
      <Button size="small" aria-pressed={mine} type={mine ? "primary" : "default"} title="Findings of the chosen parts alone" onClick={() => { useLooking.setState({ mine: !mine }); }}>{mine ? "chosen parts" : "all parts"}</Button>
      <Popup title="Findings in these frames" content={(close) => <Frames from={from} to={to} onDone={close} />}>
        <Button size="small" type={span ? "primary" : "default"} title="Findings in a span of frames alone">frames {from} … {to}</Button>
      </Popup>
      {check !== null && <Button size="small" title="Show all checks" onClick={() => { useLooking.setState({ check: null }); }}>{check} ×</Button>}
      {hidden.length > 0 && <Button size="small" title="Show all severities" onClick={() => { useLooking.setState({ hidden: [] }); }}>not {hidden.join(", ")} ×</Button>}
    </>
  );
}

function Frames({ from, to, onDone }: { from: number; to: number; onDone: () => void }) {
  const whole = useLooking((looking) => looking.span === null);
  const [first, setFirst] = useState(String(from));
  const [last, setLast] = useState(String(to));
  const good = isNumber(first) && isNumber(last);
  const show = (span: [number, number] | null) => {
    useLooking.setState({ span });
    onDone();
  };
  const take = () => {
    const [a = from, b = to] = [typed(first, from), typed(last, to)];
    if (good) show([Math.min(a, b), Math.max(a, b)]);
  };
  return (
    <Space size={6}>
      <Amount label="First frame" value={first} onChange={setFirst} onEnter={take} />
      …
      <Amount label="Last frame" value={last} onChange={setLast} onEnter={take} />
      <Apply type="primary" good={good} onClick={take}>Only these</Apply>
      <Button size="small" disabled={whole} onClick={() => { show(null); }}>All</Button>
    </Space>
  );
}
