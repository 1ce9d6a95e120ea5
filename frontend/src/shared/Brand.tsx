import { Link } from "react-router";

import { ink } from "./theme";

/** The vermilion dot and the name; leads to the home page. */
export function Brand() {
  return (
    <Link
      to="/"
      title="All scenes"
      style={{ display: "inline-flex", alignItems: "center", gap: 8, color: ink.ink }}
    >
      <svg width="13" height="13" aria-hidden>
        <circle cx="6.5" cy="6.5" r="6" fill={ink.now} />
      </svg>
      <span style={{ fontSize: 17, fontWeight: 600 }}>Bindu</span>
    </Link>
  );
}
