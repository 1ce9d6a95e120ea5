"""Kills what runs under ./start again and again while somebody edits: the worker that serves, the
database, both. Everything acknowledged must be there, and all must go on by itself.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.kills [KILLS] [SEED]
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time
from collections import Counter
from pathlib import Path

import numpy as np
import requests
from tests.conftest import ROOT, free_port, open_folder

from bindu.demo.ferry import ferry_crossing
from bindu.formats.scene.scene_json import read_scene, write_scene

PATIENCE = 60.0
"""Seconds within which all must go on."""


class Editor(threading.Thread):
    """Sets values one after another and remembers what was acknowledged."""

    def __init__(self, api: str, number: int) -> None:
        super().__init__(daemon=True)
        self.sent, self.acknowledged, self.unknown = 0, 0, 0
        self.odd: list[str] = []
        self._url, self._go_on = f"{api}/scenes/{number}/edits", True

    def run(self) -> None:
        """Until ``end``."""
        while self._go_on:
            self.sent += 1
            edit = {"do": "set value", "part": "p4", "channel": "scale.x", "value": self.sent}
            body = {"revision": 0, "edits": [edit]}
            # Each edit touches the same: what it has seen is told with each answer.
            body["revision"] = self._revision()
            try:
                answer = requests.post(self._url, json=body, timeout=30)
            except requests.RequestException:
                self.unknown += 1
                continue
            if answer.status_code == 200:
                self.acknowledged = self.sent
            elif answer.status_code == 409:
                # The answer of the edit before was lost, though it was stored.
                self.unknown += 1
            elif answer.status_code != 503:
                self.odd.append(f"{answer.status_code} {answer.text[:100]}")

    def end(self) -> None:
        """Ends after the present edit."""
        self._go_on = False
        self.join()

    def _revision(self) -> int:
        while self._go_on:
            try:
                answer = requests.get(self._url.replace("/edits", "/revision"), timeout=30)
                if answer.status_code == 200:
                    revision: int = answer.json()["revision"]
                    return revision
            except requests.RequestException:
                pass
            time.sleep(0.02)
        return 0


def processes(word: bytes, besides: int = 0) -> list[int]:
    """The processes whose command line has a word in it."""
    found = []
    for command in Path("/proc").glob("[0-9]*/cmdline"):
        try:
            if word in command.read_bytes() and int(command.parent.name) not in (
                besides,
                os.getpid(),
            ):
                found.append(int(command.parent.name))
        except OSError:
            continue
    return found


def recovered(api: str) -> float:
    """Seconds until scenes are listed again."""
    begun = time.monotonic()
    while time.monotonic() < begun + PATIENCE:
        try:
            if requests.get(f"{api}/scenes", timeout=5).status_code == 200:
                return time.monotonic() - begun
        except requests.RequestException:
            pass
        time.sleep(0.02)
    raise SystemExit(f"nothing goes on after {PATIENCE:.0f} s")


def main() -> None:
    """Kills and prints."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 100
    random = np.random.default_rng(int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    port, killed, slowest, lost = free_port(), Counter[str](), 0.0, 0
    api = f"http://127.0.0.1:{port}/api"
    with open_folder() as folder:
        variables = {**os.environ, "BINDU_VAR": str(folder / "var"), "BINDU_PORT": str(port)}
        process = subprocess.Popen(
            [str(ROOT / "start")], cwd=ROOT, env=variables, start_new_session=True
        )
        recovered(api)
        text = write_scene(ferry_crossing()).encode()
        headers = {"Content-Type": "application/json"}
        made = requests.post(f"{api}/scenes/import", data=text, headers=headers, timeout=30)
        number = made.json()["id"]
        unknown = edits = 0
        for _ in range(count):
            what = ("server", "database", "both")[int(random.integers(3))]
            editor = Editor(api, number)
            editor.start()
            time.sleep(float(random.uniform(0.0, 0.6)))
            victims = processes(f"127.0.0.1:{port}".encode()) if what != "database" else []
            if what != "server":
                victims += processes(str(folder).encode(), process.pid)
            for victim in victims:
                try:
                    os.kill(victim, signal.SIGKILL)
                except ProcessLookupError:
                    continue
            killed[what] += 1
            slowest = max(slowest, recovered(api))
            editor.end()
            if editor.odd:
                print("unexpected:", editor.odd[:3])
            scene = read_scene(requests.get(f"{api}/scenes/{number}/export", timeout=30).text)
            value = scene.parts["p4"].values.get("scale.x", 0.0)
            lost += value < editor.acknowledged
            unknown, edits = unknown + editor.unknown, edits + editor.sent
        process.send_signal(signal.SIGTERM)
        process.wait(30)
    print(f"{dict(killed)} kills during {edits} edits, {unknown} without an answer")
    print(f"lost {lost}; slowest recovery {slowest:.1f} s")


if __name__ == "__main__":
    main()
