"""What became of a scene on its way through a format."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from bindu.core.clips.motion import MotionClip, gap_between
from bindu.core.counted import counted


@dataclass
class Report:
    """The account of a way out or in.

    Attributes:
        format: its name.
        size: of the file, bytes.
        parts, clips: how many.
        held: what is there exactly.
        otherwise: what is held in another way, and how far off where that can be said.
        lost: what the format cannot hold, or was left out, and what happened instead.
        places: metres, the worst part's, between what was sent and what was read back.
        turns: degrees, likewise.
        worst: the part and the frame where that is.
    """

    format: str
    size: int = 0
    parts: int = 0
    clips: int = 0
    held: list[str] = field(default_factory=list)
    otherwise: list[str] = field(default_factory=list)
    lost: list[str] = field(default_factory=list)
    places: float | None = None
    turns: float | None = None
    worst: tuple[str, float] | None = None

    def compare(self, sent: MotionClip, back: MotionClip) -> None:
        """Notes how far a clip that was read back is from the one that was sent, of the parts that
        both have, on the frames that both have; the worst of all clips stays.

        Where names have been changed on the way, parts are taken in their order.
        """
        ours, theirs = [part.name for part in sent.parts], [part.name for part in back.parts]
        if not set(ours) <= set(theirs):
            theirs = ours[: len(theirs)]
        common = [n for n, name in enumerate(ours) if name in theirs]
        there = [theirs.index(ours[n]) for n in common]
        frames = min(len(sent.frames), len(back.frames))
        gap = gap_between(sent.worlds[common][:, :frames], back.worlds[there][:, :frames])
        worst = gap.worst
        if self.places is None or gap.places[worst] > self.places:
            self.places = float(gap.places[worst])
            self.worst = (ours[common[worst]], float(sent.frames[gap.frames[worst]]))
        self.turns = max(self.turns or 0.0, float(gap.turns.max(initial=0.0)))
        if len(common) < len(sent.parts):
            self.lost.append(f"{len(sent.parts) - len(common)} parts did not come back")
        if len(sent.frames) != len(back.frames):
            text = f"{counted(len(sent.frames), 'frame')} went out, {len(back.frames)} came back"
            self.otherwise.append(text)


def unique_names(names: Iterable[str], report: Report | None = None) -> list[str]:
    """Names that may name parts, each once: what cannot stand in a name becomes a space, and
    doubles get a number. What had to change is told."""
    made: list[str] = []
    taken: set[str] = set()
    changed: list[str] = []
    for name in names:
        kept = "".join(c if c.isalnum() or c in "_- " else " " for c in name)
        clean = " ".join(kept.split()).strip("_- ")[:72].strip("_- ") or "part"
        one, n = clean, 2
        while one in taken:
            one, n = f"{clean} {n}", n + 1
        taken.add(one)
        made.append(one)
        if one != name:
            changed.append(f"{name!r} is {one!r}")
    if changed and report is not None:
        more = f" and {len(changed) - 5} more" if len(changed) > 5 else ""
        report.otherwise.append(f"names: {', '.join(changed[:5])}{more}")
    return made
