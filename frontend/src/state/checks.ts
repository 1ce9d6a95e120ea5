import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { create } from "zustand";

import type { OneEdit } from "../api/client";
import { get, post } from "../api/client";
import { queryClient } from "../api/queryClient";
import type { components } from "../api/schema";
import { useOpenScene } from "./openScene";
import { perScene } from "./perScene";
import { useEdit } from "./useEdit";

type Schemas = components["schemas"];
export type ChecksView = Schemas["ChecksView"];
export type CheckView = Schemas["CheckView"];
export type FindingView = Schemas["FindingView"];
export type FindingDetails = Schemas["FindingDetails"];
export type WayView = Schemas["WayView"];
export type OfferView = Schemas["OfferView"];
export type TriedView = Schemas["TriedView"];
export type Severity = FindingView["severity"];

export interface Looking {
  /** The identity of the chosen finding. */
  finding: string | null;
  /** Which of its remedies is looked at. */
  offer: number | null;
  /** Only findings of this check. */
  check: string | null;
  /** Only findings of the chosen parts. */
  mine: boolean;
  /** Only findings in these frames. */
  span: [number, number] | null;
  /** Severities that are not shown. */
  hidden: Severity[];
}

/** What is looked at in the Checks view. */
export const useLooking = create<Looking>(() => ({ finding: null, offer: null, check: null, mine: false, span: null, hidden: [] }));

perScene(() => { useLooking.setState({ finding: null, offer: null, check: null, span: null, hidden: [] }); });

export function chooseFinding(finding: string | null) {
  if (useLooking.getState().finding !== finding) useLooking.setState({ finding, offer: null });
}

/** How long after an edit checks begin to look, milliseconds: a hand that goes on has the server for
 * itself. */
const pause = 350;

/** All checks and findings of the open scene; those of the state before stay until the new ones have
 * come, and `looking` says so. */
export function useChecks(): { data: ChecksView | undefined; looking: boolean; problem: Error | null } {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const settled = useSettled(revision);
  const { data, error } = useQuery({
    queryKey: ["checks", sceneId, settled],
    queryFn: () => get<ChecksView>(`/api/scenes/${String(sceneId)}/checks`),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 0,
  });
  return { data, looking: !data || data.revision !== revision, problem: error };
}

function useSettled(revision: number): number {
  const [settled, settle] = useState(revision);
  useEffect(() => {
    const timer = window.setTimeout(() => { settle(revision); }, pause);
    return () => { window.clearTimeout(timer); };
  }, [revision]);
  return settled;
}

/**
 * Changes what a check looks for. It is shown at once, since the checks look only after a pause; the
 * next setting, which gives all of a check's, is made of it.
 */
export function useSetCheck(): (check: CheckView) => Promise<void> {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const edit = useEdit();
  return async (check) => {
    const { name, on, thresholds } = check;
    const checks = { queryKey: ["checks", sceneId] };
    queryClient.setQueriesData<ChecksView>(checks, (view) => view && { ...view, checks: view.checks.map((one) => (one.name === name ? check : one)) });
    const stored = await edit({ do: "set check", check: name, on, limits: thresholds.map(({ key, value }) => [key, value]) });
    if (!stored) await queryClient.invalidateQueries(checks);
  };
}

/** How many findings that nobody accepted each part has, but untidy ones. */
export const useCounts = create<Record<string, number>>(() => ({}));

/** Keeps ``useCounts`` up to date. */
export function useCounting(data: ChecksView | undefined) {
  useEffect(() => {
    const counts: Record<string, number> = {};
    for (const { part, severity, accepted } of data?.findings ?? []) {
      if (severity !== "untidy" && accepted === null) counts[part] = (counts[part] ?? 0) + 1;
    }
    useCounts.setState(counts, true);
  }, [data]);
}

/** One finding with its curve and its remedies. */
export function useFinding(id: string | null, revision: number) {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  return useQuery({
    queryKey: ["finding", sceneId, id, revision],
    queryFn: () => findingDetails(sceneId, id ?? ""),
    enabled: id !== null,
    retry: false,
    gcTime: 0,
    staleTime: Infinity,
  });
}

export function findingDetails(sceneId: number, id: string): Promise<FindingDetails> {
  return get<FindingDetails>(`/api/scenes/${String(sceneId)}/checks/finding?id=${encodeURIComponent(id)}`);
}

/** What a remedy would make of a finding. */
export function useTried(id: string | null, edits: OneEdit[] | null, revision: number) {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  return useQuery({
    queryKey: ["tried", sceneId, id, edits, revision],
    queryFn: () => post<TriedView>(`/api/scenes/${String(sceneId)}/checks/tried`, { id, edits }),
    enabled: id !== null && edits !== null,
    retry: false,
    gcTime: 0,
    staleTime: Infinity,
  });
}
