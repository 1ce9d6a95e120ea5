import type { ChannelView, PartView, StepView } from "../../api/client";

/** The steps of a part that write one of its channels. */
export function writersOf(part: PartView, channel: ChannelView): StepView[] {
  return part.steps.filter((step) => step.writes.includes(channel.id));
}
