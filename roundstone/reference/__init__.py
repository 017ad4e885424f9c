"""Tables of facts, each row with its source, read once into core's values."""

import csv
import re
import tomllib
from collections.abc import Iterator, Mapping
from functools import cache
from importlib import resources
from typing import Any

from ..core.recipe import (
    Box,
    ByConcentration,
    ByMoulds,
    Cavities,
    Design,
    Dose,
    FatShare,
    LiquidUse,
    MouldPreset,
    Portion,
    Recipe,
    Starter,
)
from ..core.shelf import (
    ACID_FORMULA,
    Additive,
    Fat,
    Liquid,
    Possible,
    Shelf,
    SolidAt,
    Technique,
    Telling,
    Wants,
    Word,
    acid_naoh,
)
from ..core.text import C, Text, figure, say
from ..core.units import FLUID_OUNCE, INCH_MM


def _rows(name: str) -> Iterator[dict[str, str]]:
    with resources.files(__name__).joinpath(name).open(encoding="utf-8") as file:
        yield from csv.DictReader(file)


def _fat(row: dict[str, str], solid: Mapping[str, tuple[SolidAt, ...]], colours: Mapping[str, Any]) -> Fat:
    text = {k: row[k] for k in ("id", "name", "kind", "inci", "soap", "source")}
    numbers = {k: float(row[k]) for k in ("sv_low", "sv", "sv_high", "iodine_low", "iodine_high")}
    melting = {k: float(row[k]) if row[k] else None for k in ("melts_from", "melts")}
    acids = {a: float(row[a]) for a in ACID_FORMULA if row[a]}
    unsaponifiable = float(row["unsaponifiable"]) / 100
    stated = {"iodine": float(row["iodine"]) if row["iodine"] else None}
    more = {"acids": acids, "unsaponifiable": unsaponifiable, "solid": solid.get(row["id"], ())}
    more |= colours.get(row["id"], {}) | {"factor": row["factor"]}
    return Fat.model_validate(text | numbers | melting | stated | more)


def _solid() -> dict[str, tuple[SolidAt, ...]]:
    """Curves of solid fat by fat."""
    rows = _rows("solid.csv")
    return {
        r["fat"]: tuple(SolidAt(celsius=float(t), share=float(x) / 100) for t, x in r.items() if t.isdigit())
        for r in rows
    }


def _colours() -> dict[str, dict[str, Any]]:
    """What colour some fats give soap, and from which share on."""
    rows = _rows("fat_colours.csv")
    return {r["fat"]: {"colours": r["colour"], "colours_from": float(r["from"]) / 100} for r in rows}


def _words(words: str) -> Text:
    """Words of a table, in which a temperature stands in braces ("below {43}") and a decimal behind a point.

    >>> _words("below {43}: 3.5 %").parts
    ('below ', Quantity(value=43.0, unit='°C', spec='g', both=False), ': ', Figure(value=3.5, spec='g'), ' %')
    """
    parts = re.split(r"(\{\d+\}|\d+\.\d+)", words)
    values = (C(float(x.strip("{}"))) if x[:1] == "{" else figure(float(x)) for x in parts[1::2])
    return say(*(next(values) if i % 2 else x for i, x in enumerate(parts)))


def _liquid(row: dict[str, str]) -> Liquid:
    parts = {k: float(row[k]) / 100 for k in ("water", "fat", "protein", "sugars", "alcohol", "salt", "acid")}
    text = {k: row[k] for k in ("id", "name", "kind", "inci", "acid_of", "caution", "source", "goes")}
    return Liquid.model_validate(
        text
        | {k: _words(row[k]) for k in ("caution", "source")}
        | parts
        | {"fat_sv": float(row["fat_sv"]), "usual": float(row["usual"]) / 100}
    )


def _additive(row: dict[str, str]) -> Additive:
    groups = int(row["acid_groups"])
    numbers = {k: float(row[k]) for k in ("active", "fat", "fat_sv", "density", "spoon", "usual", "most")}
    text = {k: row[k] for k in ("id", "name", "kind", "moment", "how", "inci", "salt", "danger", "source", "tint")}
    naoh = acid_naoh(row["formula"], groups) * numbers["active"] if groups else 0.0
    ceiling = float(row["ceiling"]) if row["ceiling"] else None
    return Additive.model_validate(
        text
        | numbers
        | {k: _words(row[k]) for k in ("how", "danger", "source")}
        | {"factor": row["factor"] or None, "naoh": naoh, "ceiling": ceiling}
    )


def _act(row: dict[str, str]) -> Wants:
    numbers = {k: float(row[k]) for k in ("minutes", "part", "weight", "wait", "grain")}
    may = {k: float(row[k]) if row[k] else None for k in ("keep", "gate", "to")}
    return Wants.model_validate(numbers | may | {"band": tuple(float(row[k]) for k in ("thin", "lo", "hi", "thick"))})


def _table(name: str) -> dict[str, Any]:
    return tomllib.loads(resources.files(__name__).joinpath(name).read_text(encoding="utf-8"))


def _techniques() -> dict[str, Technique]:
    return {i: Technique.model_validate({"id": i, **row}) for i, row in _table("techniques.toml").items()}


def _starter(starter_id: str, row: dict[str, Any]) -> Starter:
    portions = tuple(Portion(name=n, share=s, tint=tint) for n, s, tint in row["portions"])
    extra = [("coarse-salt", row.get("salt")), ("sodium-lactate", row.get("lactate"))]
    loaf = ByMoulds(moulds=(Box(length=24, width=8, fill=6, cut=25),))
    single = ByMoulds(moulds=(Cavities(count=row.get("cavities", 1), millilitres=100),))
    recipe = Recipe(
        name=row["name"],
        fats=tuple(FatShare(fat=f, share=s) for f, s in row["fats"].items()),
        superfat=row.get("superfat", 0.05),
        water=ByConcentration(share=row.get("lye", 0.33)),
        liquids=(LiquidUse(liquid="goat-milk", share=row["milk"], frozen=True),) if "milk" in row else (),
        additives=tuple(Dose(additive=a, amount=amount) for a, amount in extra if amount),
        pour_celsius=row["celsius"],
        size=single if "cavities" in row else loaf,
        design=Design(portions=portions, technique=row["technique"], wrap=row.get("wrap", "covered")),
    )
    return Starter(id=starter_id, teaches=row["teaches"], recipe=recipe)


@cache
def also() -> dict[str, tuple[str, ...]]:
    """Other names by which things of the shelf are asked for, in English and four more languages, by id."""
    return {r["id"]: tuple(r["also"].split(";")) for r in _rows("also.csv")}


@cache
def moulds(inches: bool) -> tuple[MouldPreset, ...]:
    """Moulds to begin with, round in centimetres and millilitres or in inches and fluid ounces."""
    return tuple(
        MouldPreset(id=i, name=row["name"], mould=_measured(row["inch"]) if inches else row["metric"])
        for i, row in _table("moulds.toml").items()
    )


def _measured(mould: dict[str, Any]) -> dict[str, Any]:
    """A mould told in inches and fluid ounces, in centimetres, millimetres and millilitres."""
    cm, mm = INCH_MM / 10, INCH_MM
    of = {"length": cm, "width": cm, "fill": cm, "diameter": cm, "cut": mm, "across": mm, "millilitres": FLUID_OUNCE}
    return {k: v * of[k] if k in of else v for k, v in mould.items()}


@cache
def starters() -> tuple[Starter, ...]:
    """Recipes for who has none yet, in the order in which they are offered."""
    return tuple(_starter(i, row) for i, row in _table("starters.toml").items())


@cache
def words() -> tuple[Word, ...]:
    """The words of the trade that are explained, in the order of work."""
    return tuple(
        Word.model_validate({"id": i, **row, "text": _words(row["text"])}) for i, row in _table("words.toml").items()
    )


@cache
def shelf() -> Shelf:
    """The shelf every workshop starts from; it holds no fragrances, those are the maker's own."""
    solid, colours = _solid(), _colours()
    return Shelf(
        fats={f.id: f for f in (_fat(row, solid, colours) for row in _rows("fats.csv"))},
        liquids={q.id: q for q in map(_liquid, _rows("liquids.csv"))},
        additives={a.id: a for a in map(_additive, _rows("additives.csv"))},
        techniques=_techniques(),
        acts={row["do"]: _act(row) for row in _rows("acts.csv")},
        possible=tuple(
            Possible(told=r["told"], never=tuple(r["never"].split()), instead=r["instead"], source=r["source"])
            for r in _rows("possible.csv")
        ),
        tellings=tuple(Telling.model_validate(row) for row in _table("names.toml").values()),
    )
