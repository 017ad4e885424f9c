"""What stands at hand before the lye meets the fats, by what is done and by the technique."""

from collections.abc import Iterator, Mapping, Sequence

from ..pour import Flag
from ..recipe import Recipe, build_of
from ..shelf import Shelf
from ..text import C, Part, say
from ..values import Share, listed
from .choices import STEP_WORDS
from .moulded import embeds_told, top_told
from .task import WORDS, Task

NEEDED: Mapping[str, str] = {
    "pass": "the wire or comb that is drawn through",
    "spoon": "a spoon or spatula",
    "pipe": "a piping bag, its tip in, and a jug to fill it over",
    "embed": "the embeds, dry and at room warmth",
    "top": "a spoon for the top",
    "spare": "a spare mould",
}  # common practice, by the act of a step
AT_HAND: Mapping[Flag, str] = {
    "ricing": "if it rices: a whisk to smooth it by hand, no stick",
    "seizing": "if it seizes: a stiff spoon, and the mould lined now",
    "false-trace": "if it sets in the cold: a warm water bath",
}  # common practice
NO_MISHAPS: Mapping[Flag, Share] = {}
DRAWN = {words or WORDS["pass"] for words in STEP_WORDS.tools} | {*STEP_WORDS.tools.values()}  # tools, not own steps
BY_TECHNIQUE = {"pass", "spoon"}  # acts whose tool a technique names itself, where it names any


def tools(
    recipe: Recipe, shelf: Shelf, tasks: Sequence[Task], mishaps: Mapping[Flag, Share], day: int = 1
) -> Iterator[tuple[str, Part]]:
    """What to have at hand on a day of the build, 1 the first, whose steps these are, each under a key: for what is
    done, drawn, kept as backup, and may go wrong. Common practice, no source."""
    build = build_of(recipe.design)
    names, last = build.portions(day - 1), day == build.many
    told: list[tuple[str, Part]] = [
        ("goggles", "goggles and gloves on, sleeves down"),
        ("air", "window open, children and animals out, water at hand"),
        ("scale", "scale and thermometer, both on"),
        ("stick", "stick blender: plug out whenever a hand is near the blades"),
        (
            "mould",
            "mould lined, level, and where it can stay" if day == 1 else "the mould level again, where it can stay",
        ),
    ]
    scented = [p.name for p in recipe.design.portions if p.scented and p.name in names] if recipe.scents else []
    if scented:
        told.append(("whisk", f"a whisk for the scent, into {listed(scented)}"))
    technique = shelf.techniques.get(recipe.design.technique)
    named = {s.do for s in technique.steps} & BY_TECHNIQUE if technique is not None and technique.tools else set()
    own = {s.key for s in tasks if s.do == "pass" and s.label not in DRAWN}
    acts = dict.fromkeys(s.do for s in tasks if s.do in NEEDED and s.do not in named and s.key not in own)
    pieces = embeds_told(recipe, shelf) if last or "embed" in acts else ()
    told += [(f"act {do}", NEEDED[do]) for do in acts if not (pieces and do == "embed")]
    told += [(f"embed {n}", say(t, ", dry and at room warmth")) for n, t in enumerate(pieces)]
    drawn = (recipe.design.technique, *(r.technique for r in recipe.design.ready))
    told += [
        (f"tool {tool}", tool) for name in drawn if name in shelf.techniques for tool in shelf.techniques[name].tools
    ]
    told += [(f"if {flag}", say(AT_HAND[flag], f" ({100 * odds:.0f} %)")) for flag, odds in mishaps.items()
             if flag in AT_HAND]  # fmt: skip
    if recipe.design.wrap == "oven" and last:
        told.append(
            ("oven", say("oven warmed to ", C(65), " to ", C(70), ", and switched off before the mould goes in"))
        )
    told += [(f"top {n}", t) for n, t in enumerate(top_told(recipe) if last else ())]
    told.append(("cover", "lid or film, and a towel if it is to stay warm"))
    yield from dict.fromkeys(told)
