"""Formula text to tree, with errors that name the column."""

from __future__ import annotations

import math
import re
from functools import lru_cache
from importlib import resources
from typing import cast

from lark import Lark, Token, Transformer, UnexpectedCharacters, UnexpectedToken, v_args
from lark.exceptions import VisitError

from bindu.core.counted import counted
from bindu.core.formula.functions import CONSTANTS, FUNCTIONS, MEASURES, TIMES
from bindu.core.formula.tree import Call, Constant, Measure, Number, Reference, Tree
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.channels import TAPS, Tap

LONGEST = 2000
DEEPEST = 100
BACK = "back"
"""Behind a tap: the value one frame back."""


@lru_cache(maxsize=50_000)
def parse(text: str) -> Tree:
    """The tree of a formula. References keep whatever names stand in their braces.

    Raises:
        Refusal: with the column, when the text is too long, nested too deep or no formula.
    """
    if len(text) > LONGEST:
        raise Refusal(
            f"a formula has at most {LONGEST:,} characters, this one {len(text):,}; "
            "divide it over own channels.",
            code="too much",
            column=LONGEST + 1,
        )
    _check_nesting(text)
    try:
        return cast(Tree, _parser().parse(text))
    except UnexpectedCharacters as error:
        at = error.pos_in_stream or 0
        raise Refusal(_bad_character(text, at), column=at + 1) from None
    except UnexpectedToken as error:
        raise _unexpected(text, error.token) from None
    except VisitError as error:
        raise error.orig_exc from None


@lru_cache(maxsize=1)
def _parser() -> Lark:
    grammar = resources.files("bindu.core.formula").joinpath("grammar.lark").read_text()
    return Lark(grammar, parser="lalr", transformer=_Builder(), maybe_placeholders=False)


def _check_nesting(text: str) -> None:
    """Parentheses leave no trace in the tree, so their depth is counted in the text."""
    depth = 0
    for column, character in enumerate(text, 1):
        depth += (character == "(") - (character == ")")
        if depth > DEEPEST:
            raise Refusal(f"nested more than {DEEPEST} deep; divide it.", column=column)


def _bad_character(text: str, at: int) -> str:
    if text[at] in "{}":
        return "this brace has no partner."
    if text[at] == "=":
        return "write == to compare."
    if text[at] == ".":
        return "a channel stands in braces: write {part.channel}."
    return f"{text[at]!r} is not part of the formula language."


def _unexpected(text: str, token: Token) -> Refusal:
    if token.type == "$END":
        return Refusal(_missing(text), code="text", column=len(text.rstrip()) + 1)
    return Refusal(f"{str(token)!r} does not fit here.", column=_column(token))


WAITING = re.compile(r"(?:[-+*/%^<>=(,]|\b(?:and|or|not))$")
"""What cannot stand at the end of a formula."""


def _missing(text: str) -> str:
    """What a text that stops too early lacks."""
    end = text.rstrip()
    if not end:
        return "the formula is empty."
    waits = WAITING.search(end)
    if waits:
        return f"a value is missing at the end, behind {waits[0]}."
    open_ones = end.count("(") - end.count(")")
    if open_ones > 0:
        what = "a closing bracket ) is" if open_ones == 1 else f"{open_ones} closing brackets ) are"
        return f"{what} missing at the end."
    return "something is missing at the end."


def _column(token: Token) -> int:
    return (token.start_pos or 0) + 1


def _call(name: str, *arguments: Tree, column: int) -> Call:
    depth = 1 + max((a.depth for a in arguments), default=0)
    if depth > DEEPEST:
        raise Refusal(f"nested more than {DEEPEST} deep; divide it.", column=column)
    return Call(name, arguments, depth)


def read_braces(text: str, column: int) -> Reference:
    """The reference that stands between two braces, as ``part``, ``part.channel`` or either
    followed by ``@tap``, ``@tap back`` or ``@back`` for the value one frame back.

    Raises:
        Refusal: with the column, when it is none.
    """
    path, at, tap = text.partition("@")
    part, dot, channel = path.strip().partition(".")
    words = tap.split()
    back = bool(words) and words[-1] == BACK
    tap = " ".join(words[:-1] if back else words)
    if at and tap not in TAPS and not (back and not tap):
        raise Refusal(
            f"{tap!r} is no tap.",
            column=column + text.index("@") + 2,
            nearest=nearest_names(tap, TAPS) or TAPS,
        )
    if not part.strip() or (dot and not channel.strip()):
        raise Refusal("write a reference as {part.channel}.", code="text", column=column)
    kept = cast(Tap, tap) if tap else "final"
    return Reference(part.strip(), channel.strip() if dot else None, kept, back, column)


@v_args(inline=True)
class _Builder(Transformer[Token, Tree]):
    """Builds the tree while the text is being parsed, so nothing recurses."""

    def number(self, token: Token) -> Tree:
        value = float(token)
        if not math.isfinite(value):
            raise Refusal("this number is too large.", code="too much", column=_column(token))
        return Number(value)

    def reference(self, token: Token) -> Tree:
        return read_braces(token[1:-1], _column(token))

    def constant(self, token: Token) -> Tree:
        if token in CONSTANTS or token in TIMES:
            return Constant(str(token))
        known = [*CONSTANTS, *TIMES]
        if token in FUNCTIONS or token in MEASURES:
            what = (FUNCTIONS.get(token) or MEASURES[token]).signature
            raise Refusal(f"{token} is a function: write {what}.", column=_column(token))
        raise Refusal(
            f"there is no name {str(token)!r}; a channel stands in braces: {{part.channel}}.",
            code="unknown",
            column=_column(token),
            nearest=nearest_names(token, known),
        )

    def call(self, name: Token, *arguments: Tree) -> Tree:
        if name in MEASURES:
            return _measure(name, arguments)
        function = FUNCTIONS.get(name)
        if function is None:
            near = nearest_names(name, [*FUNCTIONS, *MEASURES])
            raise Refusal(
                f"there is no function {str(name)!r}.",
                code="unknown",
                column=_column(name),
                nearest=near,
            )
        most = function.most or len(arguments)
        if not function.least <= len(arguments) <= most:
            raise Refusal(
                f"write {function.signature}; this has {counted(len(arguments), 'argument')}.",
                column=_column(name),
            )
        return _call(str(name), *arguments, column=_column(name))

    def operation(self, left: Tree, operator: Token, right: Tree) -> Tree:
        return _call(str(operator), left, right, column=_column(operator))

    comparison = operation

    def minus(self, operator: Token, value: Tree) -> Tree:
        if isinstance(value, Number):
            return Number(-value.value)
        return _call("minus", value, column=_column(operator))

    def plus(self, operator: Token, value: Tree) -> Tree:
        return value

    def negation(self, value: Tree) -> Tree:
        return _call("not", value, column=1)

    def both(self, left: Tree, right: Tree) -> Tree:
        return _call("and", left, right, column=1)

    def either(self, left: Tree, right: Tree) -> Tree:
        return _call("or", left, right, column=1)


def _measure(name: Token, arguments: tuple[Tree, ...]) -> Measure:
    kind = MEASURES[name]
    parts = [a for a in arguments if isinstance(a, Reference) and a.channel is None]
    if len(parts) != len(arguments) or len(parts) != kind.parts:
        raise Refusal(
            f"write {kind.signature}, with a part in each pair of braces.", column=_column(name)
        )
    return Measure(str(name), tuple(parts))
