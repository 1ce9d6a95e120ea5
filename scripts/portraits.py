"""Takes the pictures of the demo's scenes for the home page, as the view itself makes them.

Run: PYTHONPATH=src:. .venv/bin/python scripts/portraits.py
"""

from __future__ import annotations

from tests.browser.alone import browser_alone

from bindu.demo import DEMO, portrait_file
from bindu.formats.scene.scene_json import write_scene


def main() -> None:
    """Opens each scene and keeps the picture that the view sends."""
    with browser_alone() as (page, server):
        for name, made in DEMO.items():
            number = server.bring(write_scene(made()))
            with page.expect_response(lambda answer: "/picture" in answer.url and answer.ok):
                page.goto(f"{server.url}/scenes/{number}/bench")
            portrait_file(name).write_bytes(server.get(f"/scenes/{number}/picture").content)


if __name__ == "__main__":
    main()
