import { Button, Input } from "antd";
import type { ButtonProps, InputProps } from "antd";

import { isNumber, notRead } from "./arithmetic";

interface AmountProps extends Pick<InputProps, "disabled" | "placeholder" | "prefix" | "suffix"> {
  label: string;
  value: string;
  width?: number;
  /** Whether what was typed can be read; a number, unless said otherwise. */
  good?: boolean;
  onChange: (text: string) => void;
  onEnter?: () => void;
}

/** A number in a form that is applied as a whole; marked while it cannot be read. */
export function Amount({ label, value, width = 62, good = isNumber(value), onChange, onEnter, ...more }: AmountProps) {
  return (
    <Input
      size="small"
      className="mono"
      aria-label={label}
      aria-invalid={!good}
      status={good ? "" : "error"}
      {...(good ? {} : { title: `${notRead(value)}. Numbers and arithmetic such as 2*3 are read.` })}
      style={{ width }}
      value={value}
      onChange={(event) => { onChange(event.target.value); }}
      onPressEnter={() => { if (good) onEnter?.(); }}
      {...more}
    />
  );
}

/** A button that does what the numbers of a form say, once all of them can be read. */
export function Apply({ good, title, ...more }: ButtonProps & { good: boolean }) {
  return <Button size="small" {...more} disabled={!good || more.disabled === true} title={good ? title : "A number cannot be read"} />;
}
