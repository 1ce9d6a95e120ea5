import { Button, Result, Spin } from "antd";
import { useEffect } from "react";
import { Link, useParams } from "react-router";

import { reason } from "../api/client";
import { useScene } from "../api/scene";
import { Bench } from "../bench/Bench";
import { setRange, stop } from "../state/player";
import { feed } from "../state/samples";
import { readAddress, writeAddress } from "../state/selection";
import { SceneContext } from "./sceneContext";
import { TopBar } from "./TopBar";

/** A scene: the top bar over the view. */
export function ScenePage() {
  const sceneId = Number(useParams()["sceneId"]);
  const { data: scene, error } = useScene(sceneId);
  const header = scene?.header;

  useEffect(() => {
    feed.open(sceneId);
    return stop;
  }, [sceneId]);
  useEffect(() => {
    if (header) setRange({ first: header.first, last: header.last, fps: header.fps });
  }, [header]);
  const ready = header !== undefined;
  useEffect(() => {
    if (!ready) return;
    readAddress();
    return writeAddress();
  }, [ready, sceneId]);

  if (error) {
    return (
      <Result
        title="This scene cannot be shown"
        subTitle={reason(error)}
        extra={
          <Link to="/">
            <Button>All scenes</Button>
          </Link>
        }
      />
    );
  }
  if (!scene) return <Spin style={{ margin: 40 }} />;
  return (
    <SceneContext.Provider value={{ sceneId, scene }}>
      <div style={{ display: "flex", flexDirection: "column", height: "100%" }}>
        <TopBar />
        <Bench />
      </div>
    </SceneContext.Provider>
  );
}
