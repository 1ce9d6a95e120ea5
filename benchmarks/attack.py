"""Made-up requests and files against a server of its own: edits of every kind on scenes that hold
every kind of thing, requests drawn from the OpenAPI document, and files with something in them
changed. Prints how they were answered, the slowest answer and the largest memory.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.attack [REQUESTS] [SEED]
"""

from __future__ import annotations

import json
import sys
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import requests
import schemathesis
from benchmarks.generated import KINDS, Random, edit, kind_next
from hypothesis import HealthCheck, Phase, given, seed, settings
from pydantic import TypeAdapter, ValidationError
from tests.browser.alone import server_alone
from tests.conftest import ROOT
from tests.core.seeds import SEEDS, seeded
from tests.evaluated import Evaluated

from bindu.core.edits import AnyEdit, applied
from bindu.core.evaluation import answering
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.formats.scene.scene_json import read_scene, write_scene
from bindu.web.scene.schemas import OneEdit

FRESH_AFTER = 60
"""Edits on one scene before it is brought anew: after many, little of it may be left."""
READ_AFTER = 10
"""After how many edits a scene is read from the server again."""
TRIES = 15
"""How many edits of a kind are drawn for one that can be done."""
DOCUMENT = ROOT / "docs" / "openapi.json"
EDITS: TypeAdapter[AnyEdit] = TypeAdapter(OneEdit)
ODD = (None, True, -1, 0, 1e308, 0.5, "", "\x00", "x" * 400, [], {}, [[]], "p1", "own", 2**70)


@dataclass
class Told:
    """What the answers were.

    Attributes:
        statuses: how often each status came, by what was sent.
        accepted: how often each kind of edit was done.
        failures: answers of 500 and above, and answers that were no answer.
        slowest: seconds, and what was asked.
    """

    statuses: Counter[tuple[str, int]] = field(default_factory=Counter)
    accepted: Counter[str] = field(default_factory=Counter)
    failures: list[str] = field(default_factory=list)
    slowest: tuple[float, str] = (0.0, "")

    @property
    def count(self) -> int:
        """How many requests there were."""
        return sum(self.statuses.values())


class Attack:
    """Sends requests to a server and counts the answers."""

    def __init__(self, url: str, number: int) -> None:
        self.told = Told()
        self._url, self._seed = url, number
        self._random = np.random.default_rng(number)
        self._evaluated = Evaluated()
        self._session = requests.Session()

    def edits(self, count: int) -> None:
        """Edits of every kind in turn, then mostly of those that were never done, on
        scenes that hold all kinds of things."""
        scene, place = Scene(), ""
        for n in range(count):
            if n % FRESH_AFTER == 0:
                # Three seeds in each, so that every kind of edit meets most of them.
                kinds = [list(SEEDS)[(n // FRESH_AFTER + m) % len(SEEDS)] for m in (0, 3, 6)]
                text = write_scene(seeded(self._random, *kinds))
                place = f"/scenes/{self._send('seeds', 'post', '/scenes/import', text)['id']}"
                scene, revision = read_scene(text), 0
            wanted, after = self._wanted(scene, kind_next(self._random, n, self.told.accepted))
            body = json.dumps({"revision": revision, "edits": [wanted]})
            answer = self._send("edits", "post", f"{place}/edits", body)
            agreed = ("header" in answer) == (after is not None)
            assert agreed, (
                f"the core and the server disagree: {body[:300]} gave {str(answer)[:300]}"
            )
            if after is not None:
                self.told.accepted[wanted["do"]] += 1
                revision = answer["header"]["revision"]
                scene = self._read(place) if revision % READ_AFTER == 0 else after

    def _read(self, place: str) -> Scene:
        """A scene as the server has it."""
        return read_scene(self._session.get(f"{self._url}/api{place}/export", timeout=60).text)

    def _wanted(self, scene: Scene, kind: type) -> tuple[dict[str, Any], Scene | None]:
        """An edit of a kind, and the scene after it where it can be done: half of the time it
        should be, and until one was."""
        never = self.told.accepted[vars(kind)["do"]] == 0
        draws = TRIES if never or self._random.random() < 0.5 else 1
        for _ in range(draws):
            wanted = edit(self._random, scene, kind)
            with suppress(Refusal, ValidationError, ValueError), answering(self._evaluated):
                return wanted, applied(scene, [EDITS.validate_json(json.dumps(wanted))])
        return wanted, None

    def drawn(self, count: int) -> None:
        """Requests that are drawn from the OpenAPI document, most of them on a scene that is."""
        schema = schemathesis.openapi.from_dict(json.loads(DOCUMENT.read_text()))
        operations = [one.ok() for one in schema.get_all_operations()]
        text = write_scene(seeded(self._random, "driven"))
        number = 0
        for operation in operations:
            if not self._session.get(f"{self._url}/api/scenes/{number}", timeout=60).ok:
                number = self._send("seeds", "post", "/scenes/import", text)["id"]
            self._drawn(operation, number, max(count // len(operations), 1))

    def _drawn(self, operation: Any, number: int, count: int) -> None:
        @seed(self._seed)
        @settings(
            max_examples=count,
            phases=[Phase.generate],
            database=None,
            deadline=None,
            suppress_health_check=list(HealthCheck),
        )
        @given(case=operation.as_strategy())
        def send(case: Any) -> None:
            if "scene_id" in (case.path_parameters or {}) and self._random.random() < 0.9:
                case.path_parameters["scene_id"] = number
            if isinstance(case.body, dict) and "revision" in case.body:
                case.body["revision"] = 0
            sent = case.as_transport_kwargs(base_url=f"{self._url}")
            sent["headers"] = {**dict(sent.get("headers") or {}), "Host": self._url[7:]}
            self._send_any("drawn", sent.pop("method"), sent.pop("url"), **sent)

        send()

    def files(self, count: int) -> None:
        """Scene files with something in them changed."""
        texts = [path.read_text() for path in sorted((ROOT / "examples").glob("*.bindu.json"))]
        for n in range(count):
            text = mutated(self._random, texts[n % len(texts)])
            made = self._send("files", "post", "/scenes/import", text)
            if "id" in made:
                self._send("files", "get", f"/scenes/{made['id']}")
                self._send("files", "delete", f"/scenes/{made['id']}")

    def _send(self, what: str, method: str, path: str, body: str | None = None) -> dict[str, Any]:
        data = None if body is None else body.encode("utf-8", "surrogatepass")
        headers = {"Content-Type": "application/json"}
        url = f"{self._url}/api{path}"
        answer = self._send_any(what, method, url, data=data, headers=headers)
        try:
            told = answer.json() if answer is not None else {}
        except ValueError:
            return {}
        return told if isinstance(told, dict) else {}

    def _send_any(self, what: str, method: str, url: str, **sent: Any) -> requests.Response | None:
        begun = time.monotonic()
        asked = f"{method} {url} {str(sent.get('data') or sent.get('json'))[:300]}"
        try:
            answer = self._session.request(method, url, timeout=120, **sent)
        except (ValueError, requests.exceptions.InvalidHeader):
            return None  # Such a request cannot even be written.
        except requests.RequestException as error:
            self.told.failures.append(f"{error} for {asked}")
            return None
        took = time.monotonic() - begun
        self.told.slowest = max(self.told.slowest, (took, asked[:120]))
        self.told.statuses[what, answer.status_code] += 1
        if answer.status_code >= 500 or "Traceback" in answer.text[:100_000]:
            self.told.failures.append(f"{answer.status_code} {answer.text[:200]} for {asked}")
        return answer


def mutated(random: Random, text: str) -> str:
    """A scene file with one to three things changed: fields, their order, or plain letters; of
    every fifth one number, so that files are taken, too."""
    if random.random() < 0.1:
        place = int(random.integers(len(text)))
        return text[:place] + str(random.choice(["", "}", '"', "\\", "9"])) + text[place + 1 :]
    document = json.loads(text)
    if random.random() < 0.2:
        numbers = list(_numbers(document))
        holder, key = numbers[int(random.integers(len(numbers)))]
        holder[key] = _scaled(random, holder[key])
        return json.dumps(document)
    for _ in range(int(random.integers(1, 4))):
        _mutate(random, document)
    return json.dumps(document)


def _mutate(random: Random, document: Any) -> None:
    holder = document
    while True:
        keys = list(holder) if isinstance(holder, dict) else list(range(len(holder)))
        if not keys:
            return
        key = keys[int(random.integers(len(keys)))]
        inner = holder[key]
        if not isinstance(inner, dict | list) or random.random() < 0.2:
            break
        holder = inner
    way = random.integers(4)
    if way == 0:
        del holder[key]
    elif way == 1:
        holder[key] = ODD[int(random.integers(len(ODD)))]
    elif way == 2 and isinstance(holder, list):
        holder.append(inner)
    elif isinstance(inner, int | float) and not isinstance(inner, bool):
        holder[key] = _scaled(random, inner)
    elif isinstance(holder, list):
        holder.reverse()
    else:
        holder["odd"] = inner


def _numbers(document: Any) -> Iterator[tuple[Any, Any]]:
    """All numbers of a document: what holds them, and where there."""
    for key, inner in document.items() if isinstance(document, dict) else enumerate(document):
        if isinstance(inner, dict | list):
            yield from _numbers(inner)
        elif isinstance(inner, int | float) and not isinstance(inner, bool):
            yield document, key


def _scaled(random: Random, number: float) -> float:
    return number * float(random.choice([-1.0, 0.0, 0.5, 1e6]))


def main() -> None:
    """Attacks and prints."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 20_000
    number = int(sys.argv[2]) if len(sys.argv) > 2 else 1
    with server_alone() as server:
        attack = Attack(server.url, number)
        attack.edits(count // 2)
        attack.drawn(count // 4)
        attack.files(count // 4)
        memory = server.largest_memory()
        log = server.log()
    told = attack.told
    print(f"{told.count} requests: {sorted(told.statuses.items())}")
    print(f"kinds of edits done: {len(told.accepted)} of {len(KINDS)}")
    print(f"slowest answer {told.slowest[0]:.2f} s: {told.slowest[1]}")
    print(f"largest memory {memory / 1e6:.0f} MB; tracebacks {log.count('Traceback')}")
    print(f"{len(told.failures)} failures")
    for failure in told.failures[:20]:
        print(" ", failure)


if __name__ == "__main__":
    main()
