import { Button, Result, Space, Spin } from "antd";
import type { ReactNode } from "react";
import { useEffect } from "react";
import { Link, useParams } from "react-router";

import { reasonNow, Refused } from "../api/client";
import { undoUnseen, useLoadedScene } from "../state/scene";
import { Bench } from "../bench/Bench";
import { Stops } from "../stops/Stops";
import { closeScene, useOpenScene } from "../state/openScene";
import { setRange, stop } from "../state/player";
import { feed } from "../state/samples";
import { readAddress, writeAddress } from "../state/selection";
import { Wiring } from "../wiring/Wiring";
import { useFollow } from "../state/useFollow";
import { TopBar } from "./TopBar";
import type { View } from "./views";

const shown: Record<View, () => ReactNode> = { bench: Bench, wiring: Wiring, stops: Stops };

/** A scene: the top bar over the view. */
export function ScenePage() {
  const asked = useParams()["view"];
  const view: View = asked && asked in shown ? (asked as View) : "bench";
  const sceneId = Number(useParams()["sceneId"]);
  const { error } = useLoadedScene(sceneId);
  const ready = useOpenScene((scene) => scene.sceneId === sceneId);
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const fps = useOpenScene((scene) => scene.header.fps);

  useFollow(sceneId, ready);
  useEffect(() => {
    feed.open(sceneId);
    return () => {
      stop();
      closeScene();
    };
  }, [sceneId]);
  useEffect(() => {
    if (ready) setRange({ first, last, fps });
  }, [ready, first, last, fps]);
  useEffect(() => {
    if (!ready) return;
    readAddress();
    return writeAddress();
  }, [ready, sceneId]);

  if (error && !ready) {
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
  const Shown = shown[view];
  if (!ready) return <Spin style={{ margin: 40 }} />;
  return (
    <div style={{ display: "flex", flexDirection: "column", height: "100%" }}>
      <TopBar view={view} />
      <Shown />
    </div>
  );
}
