import type { components } from "./schema";

type Schemas = components["schemas"];
export type ReferenceView = Schemas["ReferenceView"];
export type SceneEntry = Schemas["SceneEntry"];
export type SceneView = Schemas["SceneView"];
export type SceneHeader = Schemas["SceneHeader"];
export type PartView = Schemas["PartView"];
export type ChannelView = Schemas["ChannelView"];
export type StepView = Schemas["StepView"];
export type LedgerView = Schemas["LedgerView"];
export type BeadView = Schemas["BeadView"];
export type Problem = Schemas["Problem"];
export type Curve = Schemas["Curve"];
export type Key = Schemas["Key"];
export type Layer = Schemas["Layer"];
export type PartSet = Schemas["PartSet"];
export type LeadGroup = Schemas["LeadGroup"];
export type Marker = Schemas["Marker"];
export type CopiesView = Schemas["CopiesView"];
export type SlipView = Schemas["SlipView"];
export type Probe = Schemas["Probe"];
export type Limb = Schemas["Limb"];
export type GaitView = Schemas["GaitView"];
export type Gait = Schemas["Gait"];
export type SurfaceHead = Schemas["SurfaceHead"];
export type DeformHead = Schemas["DeformHead"];
export type PointView = Schemas["PointView"];
export type OrdersView = Schemas["OrdersView"];
export type WeightsView = Schemas["WeightsView"];
export type BakeView = Schemas["BakeView"];
export type BakesView = Schemas["BakesView"];
export type ReportView = Schemas["ReportView"];
export type TakeInView = Schemas["TakeInView"];
export type ReceiverView = Schemas["ReceiverView"];
export type Setup = Schemas["Setup"];
export type Move = Schemas["Move"];
export type Override = Schemas["Override"];
export type SheetView = Schemas["SheetView"];
export type DrivenView = Schemas["DrivenView"];
export type Clip = Schemas["Clip"];
export type ChangedView = Schemas["ChangedView"];
export type CompareView = Schemas["CompareView"];
export type CompareWish = Schemas["CompareWish"];
export type Tangent = Schemas["Tangent"];
export type ExampleList = Schemas["ExampleList"];
export type SceneList = Schemas["SceneList"];
export type Edits = Schemas["Edits"];
export type Shown = Schemas["Shown"];
export type OneEdit = Edits["edits"][number];
export type Interpolation = NonNullable<Key["interpolation"]>;

/** A request that the server refused, with its reason and place. */
export class Refused extends Error {
  constructor(
    readonly problem: Problem,
    readonly status = 0,
  ) {
    super(problem.error);
  }

  /** Whether Bindu itself failed, so that trying again would fail again. */
  get broken(): boolean {
    return this.status === 500 || this.status === 422;
  }

  /** Whether it was not the request that was at fault, but the server or its database. */
  get passing(): boolean {
    return this.status === 503 || this.status === 0;
  }

  /** The whole reason as one text. */
  get text(): string {
    const { error, place, column, nearest, changed } = this.problem;
    const where = [place, column ? `column ${String(column)}` : ""].filter(Boolean).join(", ");
    const near = nearest?.length ? ` Nearest: ${nearest.join(", ")}.` : "";
    const since = changed?.length ? ` Since then: ${changed.join("; ")}.` : "";
    return `${where ? `${where}: ` : ""}${error}${near}${since}`;
  }
}

/** Asks the server; throws a refusal where it does not do as asked. */
export async function ask(path: string, init?: RequestInit): Promise<Response> {
  const response = await fetch(path, init);
  if (response.ok) return response;
  throw refusal(await response.json().catch(() => null), response.status);
}

/** Asks for JSON. */
export async function get<T>(path: string): Promise<T> {
  return (await (await ask(path)).json()) as T;
}

/** Sends JSON and takes JSON. */
export async function post<T>(path: string, body?: unknown): Promise<T> {
  const headers = { "Content-Type": "application/json" };
  const init = { method: "POST", headers, body: JSON.stringify(body ?? {}) };
  const answer = await ask(path, init);
  return (answer.status === 204 ? undefined : await answer.json()) as T;
}

/** Sends the bytes of a file and takes JSON. */
export async function postFile<T>(path: string, file: Blob): Promise<T> {
  const answer = await ask(path, { method: "POST", headers: { "Content-Type": "application/octet-stream" }, body: file });
  return (await answer.json()) as T;
}

/** Sends JSON and takes a binary answer. */
export async function postForBinary(path: string, body: unknown): Promise<ArrayBuffer> {
  const headers = { "Content-Type": "application/json" };
  const answer = await ask(path, { method: "POST", headers, body: JSON.stringify(body) });
  return answer.arrayBuffer();
}

/** Whatever came back instead of data, as an error that can be shown. */
export function refusal(error: unknown, status = 0): Refused {
  if (typeof error === "object" && error !== null && "error" in error) {
    return new Refused(error as Problem, status);
  }
  return new Refused({ error: "The server does not answer; is it still running?" });
}

/** Whether a failure is the server's or its database's, so that trying again can help. */
export function passes(error: unknown): boolean {
  return !(error instanceof Refused) || error.passing;
}

/** A text for a failure of what is tried again by itself, which says so where that can help. */
export function reasonNow(error: unknown): string {
  return passes(error) ? `${reason(error)} Trying again by itself.` : reason(error);
}

/** A text for any failure. */
export function reason(error: unknown): string {
  if (error instanceof Refused) return error.text;
  return "The server does not answer; is it still running?";
}
