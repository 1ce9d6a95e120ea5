"""Draws the pencil drawings and beats the metronome that the demo's scenes are pinned with.

Run: PYTHONPATH=src:. .venv/bin/python scripts/drawings.py
"""

from __future__ import annotations

import base64
import wave
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright
from tests.browser.conftest import PLAIN, chromium

MEDIA = Path(__file__).parents[1] / "src" / "bindu" / "demo" / "media"
SIZE = 320, 240
RATE = 4000
"""Samples a second: enough for a click."""
BEATS, BEAT = 12, 0.5
"""How many, and seconds from one to the next: twelve frames."""

# The heron in strokes, in shares of the sheet: body, neck and head, legs; water below.
WATER = [[(0.05 + 0.1 * k, 0.9 + 0.01 * (k % 2)) for k in range(10)]]
STANDS = [
    [(0.34, 0.5), (0.45, 0.42), (0.6, 0.45), (0.68, 0.55), (0.55, 0.6), (0.4, 0.57), (0.34, 0.5)],
    [(0.37, 0.5), (0.33, 0.36), (0.4, 0.25), (0.36, 0.16), (0.3, 0.15)],
    [(0.36, 0.16), (0.18, 0.2), (0.33, 0.19)],
    [(0.5, 0.58), (0.47, 0.72), (0.52, 0.9), (0.45, 0.91)],
    [(0.55, 0.58), (0.57, 0.73), (0.55, 0.9), (0.49, 0.91)],
]
BENDS = [
    [(0.36, 0.54), (0.48, 0.44), (0.62, 0.44), (0.7, 0.53), (0.57, 0.6), (0.42, 0.6), (0.36, 0.54)],
    [(0.38, 0.55), (0.28, 0.55), (0.22, 0.64), (0.19, 0.74)],
    [(0.2, 0.7), (0.12, 0.88), (0.22, 0.73)],
    [(0.5, 0.59), (0.47, 0.72), (0.52, 0.9), (0.45, 0.91)],
    [(0.56, 0.58), (0.59, 0.73), (0.56, 0.9), (0.5, 0.91)],
]
STRIDES = [
    [
        (0.36, 0.48),
        (0.47, 0.4),
        (0.62, 0.43),
        (0.7, 0.54),
        (0.57, 0.58),
        (0.42, 0.55),
        (0.36, 0.48),
    ],
    [(0.38, 0.48), (0.31, 0.36), (0.36, 0.26), (0.3, 0.18), (0.24, 0.18)],
    [(0.3, 0.19), (0.1, 0.25), (0.27, 0.22)],
    [(0.5, 0.56), (0.38, 0.66), (0.41, 0.8), (0.34, 0.79)],
    [(0.55, 0.56), (0.6, 0.73), (0.66, 0.9), (0.59, 0.91)],
]
DRAWINGS = {"stands": STANDS, "bends": BENDS, "strides": STRIDES}
DRAW = """([lines, width, height]) => {
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [width, height];
    const pencil = canvas.getContext("2d");
    pencil.fillStyle = "#FCFAF5";
    pencil.fillRect(0, 0, width, height);
    pencil.strokeStyle = "rgba(60, 60, 66, 0.45)";
    pencil.lineWidth = 1;
    for (const line of lines) {
        pencil.beginPath();
        line.forEach(([x, y], n) => pencil[n ? "lineTo" : "moveTo"](x * width, y * height));
        pencil.stroke();
    }
    return canvas.toDataURL("image/png");
}"""


def strokes(lines: list[list[tuple[float, float]]], seed: int) -> list[list[list[float]]]:
    """Each line drawn three times over by a hand that shakes a little."""
    random = np.random.default_rng(seed)
    made = []
    for line in lines:
        corners = np.array(line)
        fine = np.linspace(0.0, len(corners) - 1.0, 8 * len(corners))
        path = np.stack(
            [np.interp(fine, np.arange(len(corners)), corners[:, axis]) for axis in (0, 1)], axis=1
        )
        for _ in range(3):
            shake = np.cumsum(random.normal(0.0, 0.0011, path.shape), axis=0)
            made.append(
                (path + shake - np.linspace(0.0, 1.0, len(path))[:, None] * shake[-1]).tolist()
            )
    return made


def beats() -> bytes:
    """The samples of a metronome, unsigned bytes; the first of each four is higher."""
    at = np.arange(int(BEATS * BEAT * RATE)) / RATE
    beat, since = np.divmod(at, BEAT)
    pitch = np.where(beat % 4 == 0, 1200.0, 800.0)
    sound = np.sin(2.0 * np.pi * pitch * since) * np.exp(-60.0 * since)
    return (128.0 + 110.0 * sound).astype(np.uint8).tobytes()


def main() -> None:
    """Makes all of it."""
    MEDIA.mkdir(exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium(), args=PLAIN)
        page = browser.new_page()
        for n, (name, lines) in enumerate(DRAWINGS.items()):
            drawn = page.evaluate(DRAW, [strokes(lines + WATER, n), *SIZE])
            (MEDIA / f"heron-{name}.png").write_bytes(base64.b64decode(drawn.split(",")[1]))
        browser.close()
    with wave.open(str(MEDIA / "metronome.wav"), "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(1)
        file.setframerate(RATE)
        file.writeframes(beats())


if __name__ == "__main__":
    main()
