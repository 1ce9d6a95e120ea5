"""How steps that bind parts read them at another tap, or one frame back."""

from __future__ import annotations

from collections.abc import Callable, Container, Sequence
from dataclasses import replace

from bindu.core.nodes.identity import Read, tap_of
from bindu.core.scene.channels import Tap
from bindu.core.scene.settings import Target

OF_SURROUNDINGS = ("world position", "world matrix", "scale")
"""What is read of an owner's surroundings; other reads beside them are of what steps have of their
own, such as weights."""


def targets_reread(
    targets: Sequence[Target], reads: Callable[[Target], Container[Read]], old: Read, new: Read
) -> tuple[Target, ...]:
    """Targets at another tap, or one frame back, where what is read of them holds ``old``."""
    return tuple(
        replace(target, tap=new_tap(new), back=new.back) if old in reads(target) else target
        for target in targets
    )


def new_tap(read: Read) -> Tap:
    """The tap of a read; what steps read at other stages is never read differently."""
    return tap_of(read.tap) or "final"


def surroundings_reread(reads: Container[Read], tap: Tap, old: Read, new: Read) -> Tap | None:
    """The tap at which an owner's surroundings are read then: another where what is read of them
    holds ``old``; None where this would be one frame back, which they cannot be."""
    if old not in reads or old.quantity not in OF_SURROUNDINGS:
        return tap
    return None if new.back else new_tap(new)
