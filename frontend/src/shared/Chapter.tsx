import { openGuide } from "../state/guide";

/** A panel's heading; a click opens its chapter of the guide. */
export function Chapter({ name, of }: { name: string; of: string }) {
  return (
    <button type="button" className="chapter caps" title={`${of}: open the guide`} onClick={() => { openGuide(of); }}>
      {name}
    </button>
  );
}
