"""Lots on the shelf: what is left, what a recipe is short of, what would still fit, and what it costs.

A lot is counted at a moment; pours begun since then have used from the lots of that ingredient, first those that
expire first. An ingredient without a lot is not kept count of, and nothing is said of it.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import UTC, date, datetime, timedelta

from pydantic import Field, field_validator

from ..shelf import LEAST_SV, MOST_SV, Additive, Fat, Liquid, Shelf, refused_sv
from ..text import joined, say
from ..values import Fault, Grams, Name, RuleError, Share, Value
from .sheet import Line, Sheet

PRECISE = 0.05  # grams that are not a shortage


class Taken(Value):
    """Grams of an item that went into something made here."""

    item: str
    grams: Grams


class Count(Value):
    """How much there was of a lot at a moment."""

    at: datetime
    grams: Grams


class Lot(Value):
    """Some of an ingredient from one delivery. `grams` were there when it was `counted`; price in own money. `code` is
    the supplier's number of the batch; its certificate states the `purity` of an alkali, and the saponification value
    `sv` of a fat [mg KOH/g]. It is bought by the `pack` of so many grams.

    A day alone means its first moment: what was poured on that day came after. What was `made` here took `made_of`,
    unless it is `unmade`: it was not made after all. `earlier` are its counts before this one, the oldest first.
    """

    item: str = Field(pattern=r"^(fat|liquid|additive|fragrance|alkali):[a-z0-9][a-z0-9-]{0,59}$")
    label: Name = ""
    grams: Grams = Field(ge=0, le=1_000_000)
    counted: datetime
    expires: date | None = None
    bought: date | None = None
    opened: date | None = None
    price_per_kg: float | None = Field(default=None, ge=0, le=1_000_000)
    supplier: Name = ""
    code: Name = ""
    purity: Share | None = Field(default=None, gt=0, le=1)
    sv: float | None = Field(default=None, ge=LEAST_SV, le=MOST_SV)
    pack: Grams | None = Field(default=None, gt=0, le=1_000_000)
    made: datetime | None = None
    made_of: tuple[Taken, ...] = ()
    unmade: bool = False
    earlier: tuple[Count, ...] = ()

    @property
    def counts(self) -> tuple[Count, ...]:
        """All its counts, the oldest first: the first one is when it came."""
        return (*self.earlier, Count(at=self.counted, grams=self.grams))

    @property
    def named(self) -> str:
        """What it is called, of which supplier, with their number."""
        return ", ".join(filter(None, (self.label, " ".join(filter(None, (self.supplier, self.code))))))

    @field_validator("counted")
    @classmethod
    def _in_utc(cls, value: datetime) -> datetime:
        if not 1970 <= value.year <= 9000:
            raise ValueError("A day between 1970 and now is expected.")
        return value.replace(tzinfo=UTC) if value.tzinfo is None else value


class LotEdit(Value):
    """A lot as typed. Without `grams` nothing was counted: what was there, and when, stays."""

    item: str = Field(pattern=r"^(fat|liquid|additive|fragrance|alkali):[a-z0-9][a-z0-9-]{0,59}$")
    label: Name = ""
    grams: Grams | None = Field(default=None, ge=0, le=1_000_000)
    counted: datetime | None = Field(default=None, description="when; now if it is not said")
    revision: int | None = Field(default=None, description="of the lot this was typed on, if it was there")
    expires: date | None = None
    bought: date | None = None
    opened: date | None = None
    price_per_kg: float | None = Field(default=None, ge=0, le=1_000_000)
    supplier: Name = ""
    code: Name = ""
    purity: Share | None = Field(default=None, gt=0, le=1)
    sv: float | None = Field(default=None, ge=LEAST_SV, le=MOST_SV)
    pack: Grams | None = Field(default=None, gt=0, le=1_000_000)


def check_lot(lot: Lot | LotEdit, shelf: Shelf) -> None:
    """RuleError where what a certificate states cannot be of this ingredient."""
    kind, _, name = lot.item.partition(":")
    if lot.purity is not None and kind != "alkali":
        raise RuleError(Fault(pointer="/purity", message="Only lye has a purity here."))
    if lot.sv is not None:
        why = refused_sv(shelf.fats[name], lot.sv) if kind == "fat" and name in shelf.fats else "Only a fat has one."
        if why:
            raise RuleError(Fault(pointer="/sv", message=why))


def recount(before: Lot | None, edit: LotEdit, now: datetime) -> Lot:
    """The lot after an edit; RuleError when a new one was not counted, or was counted in the future."""
    if edit.grams is None:
        if before is None:
            raise RuleError(Fault(pointer="/grams", message="Say how much there is."))
        grams, counted = before.grams, before.counted
    else:
        grams, counted = edit.grams, edit.counted or now
        counted = counted.replace(tzinfo=UTC) if counted.tzinfo is None else counted
        if counted.year < 1970:
            raise RuleError(Fault(pointer="/counted", message="A day between 1970 and now is expected."))
        # A day of grace: the maker's clock may be ahead of this one.
        if counted > now + timedelta(days=1):
            raise RuleError(Fault(pointer="/counted", message="This moment is still to come."))
    kept = edit.model_dump(exclude={"grams", "counted", "revision"})
    return as_made(Lot.model_validate(kept | {"grams": grams, "counted": counted}), before)


class MakeLot(Value):
    """Grams of something that was made here (an infusion, a premix, a bottled blend), now or at a moment past."""

    item: str = Field(pattern=r"^(fat|liquid|additive|fragrance):[a-z0-9][a-z0-9-]{0,59}$")
    grams: Grams = Field(gt=0, le=1_000_000)
    label: Name = ""
    at: datetime | None = None


def made_lot(making: MakeLot, shelf: Shelf, lots: Sequence["LotLeft"], now: datetime) -> Lot:
    """The lot it becomes: what it took of its parts, what that cost, and until when it keeps.

    RuleError when it is nothing that is made here, or was made in the future.
    """
    kind, _, name = making.item.partition(":")
    if kind == "fragrance":
        blend = shelf.fragrances.get(name)
        parts = [(f"fragrance:{p.fragrance}", p.share) for p in blend.parts] if blend and blend.bottled else []
        keeps = None
    else:
        of: Mapping[str, Mapping[str, Fat | Liquid | Additive]] = {
            "fat": shelf.fats,
            "liquid": shelf.liquids,
            "additive": shelf.additives,
        }
        found = of[kind].get(name)
        parts = [(p.item, p.share) for p in found.made.of] if found and found.made else []
        keeps = found.made.keeps if found and found.made else None
    if not parts:
        raise RuleError(Fault(pointer="/item", message="This is nothing that is made here."))
    at = making.at or now
    at = at.replace(tzinfo=UTC) if at.tzinfo is None else at
    if at > now + timedelta(days=1) or at.year < 1970:
        raise RuleError(Fault(pointer="/at", message="This moment is still to come."))
    prices = {x.lot.item: x.lot.price_per_kg for x in lots if x.lot.price_per_kg is not None}
    known = all(item in prices for item, _ in parts)
    ends = [x.lot.expires for x in lots for item, _ in parts if x.lot.item == item and x.left > 0 and x.lot.expires]
    ends += [(at + timedelta(days=keeps)).date()] if keeps else []
    return Lot(
        item=making.item,
        label=making.label or f"made {at.date().isoformat()}",
        grams=making.grams,
        counted=at,
        # It keeps no longer than what is in it.
        expires=min(ends) if ends else None,
        price_per_kg=sum(share * (prices[item] or 0.0) for item, share in parts) if known else None,
        made=at,
        made_of=tuple(Taken(item=item, grams=share * making.grams) for item, share in parts),
    )


def as_made(counted: Lot, before: Lot | None) -> Lot:
    """A lot that was counted anew, with what was known of its making and of its counts: a file says nothing of that. A
    count of an earlier moment takes the place of those after it."""
    if before is None or before.item != counted.item:
        return counted
    known = {"made": before.made, "made_of": before.made_of, "unmade": before.unmade}
    earlier = tuple(c for c in before.counts if c.at < counted.counted)
    return counted.model_copy(update={**known, "earlier": earlier})


class LotLeft(Value):
    """A lot and what is left of it; below zero when more was poured than was counted. `revision` counts its edits."""

    id: str
    lot: Lot
    left: Grams
    revision: int = 1


OFFCUTS = "additive:soap-offcuts"  # what is cut off bars, kept to be poured again
ALKALI = {"alkali:naoh": "Sodium hydroxide", "alkali:koh": "Potassium hydroxide"}


def item_names(shelf: Shelf) -> dict[str, str]:
    """Everything a lot can be of, with its name."""
    names = {f"fat:{i}": x.name for i, x in shelf.fats.items()}
    names |= {f"liquid:{i}": x.name for i, x in shelf.liquids.items() if x.kind != "water"}
    names |= {f"additive:{i}": x.name for i, x in shelf.additives.items()}
    names |= {f"fragrance:{i}": x.name for i, x in shelf.fragrances.items()}
    return names | ALKALI


def used(lines: Iterable[Line]) -> dict[str, Grams]:
    """Grams by item."""
    out: dict[str, float] = {}
    for line in lines:
        if line.item:
            out[line.item] = out.get(line.item, 0.0) + line.grams
    return out


def to_take(lots: Iterable[LotLeft], grams: Grams) -> Iterator[LotLeft]:
    """Of an item's lots, in the order in which they are taken from, those that so many grams come from."""
    for x in lots:
        if grams <= PRECISE:
            return
        if x.left > 0:
            yield x
            grams -= x.left


def in_hand(sheet: Sheet, lots: Sequence[LotLeft]) -> Sheet:
    """The sheet with each line naming the lots it is taken from, where they have names."""
    by_item: dict[str, list[LotLeft]] = {}
    for x in lots:
        by_item.setdefault(x.lot.item, []).append(x)
    need = used(sheet.lines)
    named = {
        item: ", ".join(filter(None, (x.lot.named for x in to_take(by_item.get(item, ()), grams))))
        for item, grams in need.items()
        if grams > 0
    }
    lines = (
        x.model_copy(update={"lot": lot, "note": say(joined("; ", (p for p in (x.note, f"lot: {lot}") if p)))})
        if (lot := named.get(x.item))
        else x
        for x in sheet.lines
    )
    return sheet.model_copy(update={"lines": tuple(lines)})


def used_by(lot: Lot) -> dict[str, Grams]:
    """What making a lot took."""
    return {t.item: t.grams for t in lot.made_of}
