import { App, ConfigProvider } from "antd";
import type { ReactNode } from "react";
import { act } from "react";
import { createRoot } from "react-dom/client";

import { theme } from "./theme";

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

/** A page in a document without a browser, for tests of what hands do in fields. */
export function page() {
  const place = document.body.appendChild(document.createElement("div"));
  const root = createRoot(place);
  const field = (label: string) => {
    const found = document.querySelector<HTMLInputElement>(`:is(input, textarea)[aria-label="${label}"]`);
    if (!found) throw new Error(`there is no field ${label}`);
    return found;
  };
  const enter = (label: string) => { act(() => { field(label).focus(); }); };
  const type = (text: string) => {
    const input = document.activeElement as HTMLInputElement | HTMLTextAreaElement;
    act(() => {
      const kind = input instanceof HTMLTextAreaElement ? HTMLTextAreaElement : HTMLInputElement;
      Object.getOwnPropertyDescriptor(kind.prototype, "value")?.set?.call(input, text);
      input.dispatchEvent(new Event("input", { bubbles: true }));
    });
  };
  const labelled = (label: string) => {
    const found = document.querySelector(`[aria-label="${label}"]`);
    if (!found) throw new Error(`there is nothing called ${label}`);
    return found;
  };
  return {
    field,
    labelled,
    /** Whether there is something of this name. */
    has: (label: string) => document.querySelector(`[aria-label="${label}"]`) !== null,
    /** Clicks on what has this name, or says this. */
    click: (name: string) => {
      const said = [...document.querySelectorAll("button")].find(({ textContent, ariaLabel }) => textContent === name && !ariaLabel);
      act(() => { ((said ?? labelled(name)) as HTMLElement).click(); });
    },
    /** Opens a field's list, and takes what says this. */
    choose: (label: string, option: string) => {
      act(() => { field(label).dispatchEvent(new MouseEvent("mousedown", { bubbles: true })); });
      const found = [...document.querySelectorAll<HTMLElement>(".ant-select-item-option")].filter(({ textContent }) => textContent === option).at(-1);
      if (!found) throw new Error(`${label} does not offer ${option}`);
      act(() => { found.click(); });
    },
    /** Draws this in the page, in place of what was there. */
    show: (what: ReactNode) => { act(() => { root.render(<ConfigProvider theme={theme}><App>{what}</App></ConfigProvider>); }); },
    /** Puts the keyboard into a field. */
    enter,
    /** Takes the keyboard out of whatever has it. */
    leave: () => { act(() => { (document.activeElement as HTMLElement | null)?.blur(); }); },
    /** Types in the place of what stands in a field that has the keyboard. */
    type,
    /** Puts the keyboard into a field, and types there. */
    fill: (label: string, text: string) => {
      enter(label);
      type(text);
    },
    /** Presses a key where the keyboard is. */
    press: (key: string, held: KeyboardEventInit = {}) => {
      for (const way of ["keydown", "keyup"]) {
        act(() => { document.activeElement?.dispatchEvent(new KeyboardEvent(way, { key, bubbles: true, cancelable: true, ...held })); });
      }
    },
    /** The pointer goes down on what has this name, or on from there, or up. */
    point: (label: string, what: "down" | "move" | "up" | "cancel", x: number, held: PointerEventInit = {}) => {
      act(() => { labelled(label).dispatchEvent(new PointerEvent(`pointer${what}`, { clientX: x, button: 0, bubbles: true, cancelable: true, ...held })); });
    },
    /** All that the page says at the moment. */
    said: () => document.body.textContent,
    close: () => {
      act(() => { root.unmount(); });
      document.body.replaceChildren();
    },
  };
}
