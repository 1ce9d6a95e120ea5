import { fetchedLater } from "../shared/fetchedLater";
import { useGuide } from "../state/guide";

const Guide = fetchedLater(async () => (await import("./Guide")).Guide);

/** The guide where it is open; it is fetched when it first is. */
export function GuideBeside() {
  const open = useGuide(({ chapter }) => chapter !== null);
  return open && <Guide />;
}
