"""The ready check: what stands at hand before the lye meets the fats, each to be ticked, each caution at its step."""

from collections.abc import Iterator, Mapping, Sequence

from pydantic import Field

from ..face import Tint
from ..heat import Reading
from ..recipe import Recipe
from ..sheet import Line
from ..values import Celsius, Minutes, Name, Span, Value, listed
from .plan import Stint
from .worksheet import BEFORE, COLOUR, COMBINE, RAW, SPLIT, WHOLE, WorkStep

TOOLS = "Tools and shelf"
NEEDED: Mapping[str, str] = {
    "pass": "the wire or comb that is drawn through",
    "spoon": "a spoon or spatula",
    "pipe": "a piping bag, its tip in, and a jug to fill it over",
    "embed": "the embeds, dry and at room warmth",
    "top": "a spoon for the top",
    "spare": "a spare mould",
}  # common practice, by the act of a step
BAND, GAP = 3.0, 6.0  # °C either side of the pour's, and between jug and pot, unless the maker says otherwise [C]


class ReadyItem(Value):
    """Something to stand ready or to be weighed; `key` is what is ticked. `shown` is what the scale shows, in grams."""

    key: str
    says: str
    shown: str = ""
    tint: Tint | None = None


class ReadyPart(Value):
    """What is got ready in one go, in the order of work, with what to beware of while doing it."""

    title: str
    does: str
    items: tuple[ReadyItem, ...]
    cautions: tuple[str, ...]


class Before(Value):
    """What happened last time: with this recipe, this fragrance, this technique."""

    of: str
    says: str


class ReadyState(Value):
    """What the maker has ticked and read so far. `melted` and `mixed` are minutes on the ready check's own clock, which
    begins with its first act; readings are since the vessel was hot."""

    ticked: tuple[str, ...] = ()
    melted: Minutes | None = None
    mixed: Minutes | None = None
    jug: tuple[Reading, ...] = Field(default=(), max_length=6)
    pot: tuple[Reading, ...] = Field(default=(), max_length=6)
    band: Span | None = None
    gap: float = Field(default=GAP, ge=0.5, le=100)


def band_of(recipe: Recipe, state: ReadyState) -> Span:
    """The °C between which jug and pot are wanted."""
    return state.band or Span(low=recipe.pour_celsius - BAND, high=recipe.pour_celsius + BAND)


def ready_parts(
    recipe: Recipe, steps: Sequence[WorkStep], stints: Sequence[Stint], short: Sequence[str]
) -> tuple[ReadyPart, ...]:
    """What to get ready, in the order of work. `steps` are the bench sheet's, `short` what the shelf is short of."""
    parts = [ReadyPart(title=TOOLS, does="", items=tuple(_tools(recipe, stints)), cautions=tuple(short))]
    for step in steps:
        if step.title == BEFORE:
            first = parts[0]
            parts[0] = first.model_copy(update={"does": step.does, "cautions": (*step.cautions, *first.cautions)})
            continue
        if step.title == COMBINE:
            parts.append(ReadyPart(title=step.title, does=step.does, items=(), cautions=step.cautions))
            continue
        items = [_item(step.title, line) for line in step.lines]
        if step.title in (SPLIT, COLOUR, WHOLE, RAW):
            items += [
                ReadyItem(key=f"{step.title}/{c.vessel}", says=f"label {c.vessel}", tint=c.tint) for c in step.cups
            ]
        if items:
            parts.append(ReadyPart(title=step.title, does=step.does, items=tuple(items), cautions=step.cautions))
        elif step.cautions:
            parts.append(ReadyPart(title=step.title, does=step.does, items=(), cautions=step.cautions))
    return tuple(parts)


def _item(title: str, line: Line) -> ReadyItem:
    into = f", into {line.into}" if line.into else ""
    return ReadyItem(key=f"{title}/{line.kind} {line.key}", says=f"{line.name}{into}", shown=line.shown)


def _tools(recipe: Recipe, stints: Sequence[Stint]) -> Iterator[ReadyItem]:
    """Common practice, no source."""
    told = [
        ("goggles", "goggles and gloves on, sleeves down"),
        ("air", "window open, children and animals out, water at hand"),
        ("scale", "scale and thermometer, both on"),
        ("stick", "stick blender: plug out whenever a hand is near the blades"),
        ("mould", "mould lined, level, and where it can stay"),
    ]
    scented = [p.name for p in recipe.design.portions if p.scented] if recipe.scents else []
    if scented:
        told.append(
            ("whisk", f"a whisk for the scent, {listed(scented) if len(scented) < 5 else f'{len(scented)} cups'}")
        )
    acts = dict.fromkeys(s.do for s in stints if s.do in NEEDED)
    told += [(f"act {do}", NEEDED[do]) for do in acts]
    told.append(("cover", "lid or film, and a towel if it is to stay warm"))
    yield from (ReadyItem(key=f"{TOOLS}/{key}", says=says) for key, says in dict.fromkeys(told))


class Meets(Value):
    """When jug and pot can meet, on the ready check's clock: `opens` to `closes`, None while it is not known."""

    opens: Minutes | None
    closes: Minutes | None
    jug: Celsius | None
    pot: Celsius | None
    combined: Celsius | None
    says: str


class ReadyCue(Value):
    minute: Minutes
    kind: Name
    says: str


def cues_of(meets: Meets) -> tuple[ReadyCue, ...]:
    """When a word is due: jug and pot are ready to meet, and soon will not be any more."""
    out = []
    if meets.opens is not None:
        out.append(ReadyCue(minute=meets.opens, kind="countdown", says="Jug and pot are ready to meet: read both."))
    if meets.closes is not None and meets.closes - (meets.opens or 0.0) > 4:
        out.append(ReadyCue(minute=meets.closes - 2, kind="closing", says="Two minutes, then one of them is too cool."))
    return tuple(out)
