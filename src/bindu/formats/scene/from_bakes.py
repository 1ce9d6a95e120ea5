"""The edits that make a document's bakes."""

from __future__ import annotations

from collections.abc import Iterator

from bindu.core.refusal import Refusal, nearest_names
from bindu.formats.scene.bake_entries import put_bake
from bindu.formats.scene.document import SceneDocument
from bindu.formats.scene.from_owners import Placed
from bindu.formats.scene.identities import Identities


def bakes(document: SceneDocument, ids: Identities) -> Iterator[Placed]:
    """Bakes, with what they wrote out.

    Raises:
        Refusal: when a part is not there, or a bake cannot be, with its place in the file.
    """
    sets = {one.name: one.id for one in document.sets}
    for bake in document.bakes:
        place = f"bakes ({bake.name})"

        def part_id(name: str, place: str = place) -> str:
            return ids.part(name, place).id

        def set_id(name: str, place: str = place) -> str:
            found = sets.get(name)
            if found is None:
                near = nearest_names(name, sets)
                text = f"there is no set {name!r} with an identity."
                raise Refusal(text, code="unknown", place=place, nearest=near)
            return found

        try:
            yield place, put_bake(bake, part_id, set_id)
        except Refusal as refusal:
            raise refusal if refusal.place.startswith(place) else refusal.at(place) from None
