import { App, Button, Result, Space, Spin } from "antd";
import type { ComponentType } from "react";
import { useEffect } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { reasonNow, Refused } from "../api/client";
import { undoUnseen, useLoadedScene } from "../state/scene";
import { Bench } from "../bench/Bench";
import { closeScene, firstToShow, useOpenScene } from "../state/openScene";
import { keyedFrames } from "../state/keying";
import { setKeyedFrames, setRange, stop } from "../state/player";
import { enterScene } from "../state/perScene";
import { feed } from "../state/samples";
import { readAddress, writeAddress } from "../state/selection";
import { followPlayer } from "../state/sound";
import { useFollow } from "../state/useFollow";
import { fetchedLater } from "../shared/fetchedLater";
import { Fetched } from "./Fetched";
import { FirstSteps } from "../first/FirstSteps";
import { NoPage } from "./NoPage";
import { TopBar } from "./TopBar";
import type { View } from "./views";

// Each view but the first comes when it is opened.
const later = (fetchIt: () => Promise<ComponentType>) => fetchedLater(fetchIt, <Spin style={{ margin: 40 }} />);
const Wiring = later(async () => (await import("../wiring/Wiring")).Wiring);
const Stops = later(async () => (await import("../stops/Stops")).Stops);
const Checks = later(async () => (await import("../checks/Checks")).Checks);
const Deliver = later(async () => (await import("../deliver/Deliver")).Deliver);
const shown: Record<View, ComponentType> = { bench: Bench, wiring: Wiring, stops: Stops, checks: Checks, deliver: Deliver };

/** A scene: the top bar over the view. */
export function ScenePage() {
  const asked = useParams()["view"];
  const view: View = asked && asked in shown ? (asked as View) : "bench";
  const sceneId = Number(useParams()["sceneId"]);
  const { error } = useLoadedScene(sceneId);
  const ready = useOpenScene((scene) => scene.sceneId === sceneId);
  const units = useOpenScene(({ header }) => `${header.units.length ?? ""} ${header.units.angle ?? ""}`);
  useEntered(sceneId);
  usePlayedRange(ready);
  useAddress(sceneId, ready);

  if (asked !== undefined && !(asked in shown)) return <NoPage />;
  if (error && !ready) return <NotShown sceneId={sceneId} error={error} />;
  const Shown = shown[view];
  if (!ready) return <Spin style={{ margin: 40 }} />;
  return (
    <div style={{ display: "flex", flexDirection: "column", height: "100%" }}>
      <Follow sceneId={sceneId} />
      <TopBar view={view} />
      {/* Other units are another text everywhere. */}
      <Fetched key={`${view} ${units}`}>
        <Shown />
      </Fetched>
      <FirstSteps />
    </div>
  );
}

/** Enters the scene, and leaves it with its samples, its sound and its playing. */
function useEntered(sceneId: number) {
  useEffect(() => {
    enterScene(sceneId);
    feed.open(sceneId);
    const silent = followPlayer();
    return () => {
      silent();
      stop();
      closeScene();
    };
  }, [sceneId]);
}

/** The player plays the range of the scene, and knows the frames that have keys. */
function usePlayedRange(ready: boolean) {
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const fps = useOpenScene((scene) => scene.header.fps);
  useEffect(() => {
    if (ready) setRange({ first, last, fps });
    setKeyedFrames(keyedFrames);
  }, [ready, first, last, fps]);
}

/** What is chosen is read from the address once, and written to it from then on. */
function useAddress(sceneId: number, ready: boolean) {
  const { message } = App.useApp();
  useEffect(() => {
    if (!ready) return;
    const { parts, header } = useOpenScene.getState();
    const channels = (part: string) => parts[part]?.channels.map(({ id }) => id);
    const missing = readAddress({ channels, begin: firstToShow(), first: header.first, last: header.last });
    if (missing.length) void message.warning(`The link shows what is nearest: ${missing.join("; ")}.`, 8);
    return writeAddress();
  }, [ready, sceneId, message]);
}

/** Why the scene cannot be shown, and what can be done. */
function NotShown({ sceneId, error }: { sceneId: number; error: unknown }) {
  return (
    <Result
      title="This scene cannot be shown"
      subTitle={reasonNow(error)}
      extra={
        <Space>
          <Link to="/">
            <Button>All scenes</Button>
          </Link>
          {error instanceof Refused && error.broken ? (
            <Button type="primary" onClick={() => void undoUnseen(sceneId)}>
              Take its last edit back
            </Button>
          ) : null}
        </Space>
      }
    />
  );
}

/** Follows what others do with the scene. It draws nothing: what it hears draws nothing again that did not
 * change. */
function Follow({ sceneId }: { sceneId: number }) {
  const gone = useFollow(sceneId);
  const navigate = useNavigate();
  const { message } = App.useApp();
  useEffect(() => {
    if (!gone) return;
    const { name } = useOpenScene.getState().header;
    void message.warning(`“${name}” was deleted elsewhere.`, 8);
    void navigate("/");
  }, [gone, message, navigate]);
  return null;
}
