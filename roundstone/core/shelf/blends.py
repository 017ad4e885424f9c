"""A blend of fragrances as one thing: what its parts make of it, and the order in which parts come before wholes."""

from collections.abc import Collection, Mapping, Sequence

from ..text import figure, say
from ..values import Fault, RuleError, listed, shortened
from .shelf import BlendPart, Claim, Discolours, Fragrance, NewFragrance, Ricing, Shelf

LEAST_PARTS = 2
WHOLE = 0.002  # that the shares of a blend may miss of 100 %, as rounded percentages do [chosen]
RICES = (Ricing.NO, Ricing.UNKNOWN, Ricing.SOME, Ricing.YES)  # a blend does what the worst of its parts does
BROWNS = (Discolours.NO, Discolours.UNKNOWN, Discolours.TINT, Discolours.BROWN)


def blended(new: NewFragrance, shelf: Shelf, custom_id: str | None = None) -> NewFragrance:
    """A fragrance as typed; of a blend in no bottle of its own, what its parts say of it in place of what was typed.

    `own_id` is its own, if it stands on the shelf already. RuleError where its parts cannot be, or hold itself.
    """
    if not new.parts:
        return new.model_copy(update={"bottled": False})
    _check(new.parts, shelf, custom_id)
    total = sum(p.share for p in new.parts)
    parts = tuple(p.model_copy(update={"share": p.share / total}) for p in new.parts)
    whole = new.model_copy(update={"parts": parts})
    return whole if new.bottled else whole.model_copy(update={"inherits": None} | _facts(parts, shelf))


def _check(parts: Sequence[BlendPart], shelf: Shelf, custom_id: str | None) -> None:
    names = [p.fragrance for p in parts]
    faults = [
        Fault(pointer=f"/parts/{i}/fragrance", message=message)
        for i, name in enumerate(names)
        for message in (
            "This fragrance is not on the shelf." if name not in shelf.fragrances else "",
            "This fragrance stands twice: give it one share." if name in names[:i] else "",
            "A blend cannot be a part of itself."
            if custom_id is not None and custom_id in _within(name, shelf)
            else "",
        )
        if message
    ]
    if len(parts) < LEAST_PARTS:
        faults.append(Fault(pointer="/parts", message="A blend has two fragrances at least."))
    elif abs(sum(p.share for p in parts) - 1) > WHOLE:
        message = say("The shares make ", figure(100 * sum(p.share for p in parts), ".4g"), " %: they must make 100.")
        faults.append(Fault(pointer="/parts", message=message))
    if faults:
        raise RuleError(*faults)


def _within(fragrance_id: str, shelf: Shelf, seen: Collection[str] = ()) -> set[str]:
    """A fragrance, and all that is in it."""
    found = shelf.fragrances.get(fragrance_id)
    inside = {fragrance_id}
    for part in found.parts if found is not None and fragrance_id not in seen else ():
        inside |= _within(part.fragrance, shelf, {*seen, fragrance_id})
    return inside


def _facts(parts: Sequence[BlendPart], shelf: Shelf) -> dict[str, object]:
    """What is on the bottles together. Limits add up as shares of what each allows; one unknown leaves it unknown."""
    of = [(p.share, shelf.fragrances[p.fragrance]) for p in parts]
    heaviest = max(of, key=lambda x: x[0])[1]
    stated = [f.vanillin for _, f in of if f.vanillin is not None]
    limits = [share / f.limit for share, f in of if f.limit is not None]
    return {
        "family": heaviest.family,
        "claim": Claim.UNKNOWN,
        "claim_words": "",
        "vanillin": sum(share * (f.vanillin or 0.0) for share, f in of) if stated else None,
        "limit": min(1 / sum(limits), 1.0) if len(limits) == len(of) else None,
        "allergens": tuple(sorted({a for _, f in of for a in f.allergens})),
        "ricing": max((f.ricing for _, f in of), key=RICES.index),
        "discolours": max((f.discolours for _, f in of), key=BROWNS.index),
        "source": shortened("its parts: " + listed([f"{f.name} {100 * share:.3g} %" for share, f in of], most=len(of))),
        "essential": all(f.essential for _, f in of),
    }


def in_a_bottle(blend: Fragrance, name: str) -> NewFragrance:
    """A blend mixed ahead, as a fragrance of its own: known from what was learned of the blend, and then by itself."""
    return NewFragrance.model_validate(
        blend.model_dump(exclude={"id"}) | {"name": name, "bottled": True, "inherits": blend.id}
    )


def after_a_part(fragrance: Fragrance, fragrances: Mapping[str, Fragrance]) -> list[Fragrance]:
    """Blends in no bottle of their own that hold this fragrance, which was changed: what is said of them changes too.

    Those nearest to it come first.
    """
    out: list[Fragrance] = []
    waiting = [fragrance.id]
    for part in waiting:
        for f in fragrances.values():
            if not f.bottled and f.id not in waiting and any(p.fragrance == part for p in f.parts):
                waiting.append(f.id)
                out.append(f)
    return out


def parents(fragrances: Mapping[str, Fragrance]) -> list[tuple[Fragrance, dict[str, float]]]:
    """Who is believed to be like others, with the weight of each, in an order in which those others come first.

    A blend is as its parts are by their shares; another bottle, also one of a blend, is as its elder. One that leads
    back to itself, or to what is not on the shelf, has only its claim.
    """
    of = {
        f.id: {f.inherits: 1.0} if f.inherits is not None else {p.fragrance: p.share for p in f.parts}
        for f in sorted(fragrances.values(), key=lambda f: f.id)
        if f.parts or f.inherits is not None
    }
    settled = set(fragrances) - set(of)
    out: list[tuple[Fragrance, dict[str, float]]] = []
    while ready := [i for i, from_ in of.items() if i not in settled and set(from_) <= settled]:
        out += [(fragrances[i], {k: w for k, w in of[i].items() if k is not None}) for i in ready]
        settled |= set(ready)
    return out
