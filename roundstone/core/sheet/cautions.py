"""Cautions beside a sheet: allowed, but someone or the batch can be hurt. Common practice where no source is named."""

from collections.abc import Iterator, Sequence

import numpy as np

from ..recipe import Carrier, Dose, LookStep, Portion, Recipe, build_of, misplaced, moment_of
from ..shelf import Additive, Family, Fragrance, Shelf, consistency
from ..text import G, Text, figure, say
from ..values import Caution
from .alkali import MOST_SUPERFAT
from .bar import SALT_BAR
from .certified import certified
from .checks import percent
from .sheet import Line, Sheet
from .whites import whites

FINE = 10  # steps of the scale that a dilution should weigh, to be within a twentieth of it [chosen]
TOO_HUNGRY = 0.20  # of superfat above which the soap stays soft, greasy and spoils: common practice
LYE_OFF = 0.005  # of the lye that rounding to a scale's step may cost before it is told [chosen]
MUCH_SCENT = 0.06  # of the fats: makers seldom go beyond, common practice
COARSE = 0.01  # of superfat that reading the fats may cost before it is told [chosen]
# Grams of salt that a gram of water holds beside so much NaOH (as a share of both): CRC Handbook for none, the rest
# roughly, from memory.
LYE_SHARES, SALT_HELD = (0.0, 0.1, 0.2, 0.3, 0.4, 0.5), (0.36, 0.29, 0.22, 0.14, 0.07, 0.03)

# Essential oils by their kind: common practice, no source; certificates and local rules decide.
ESSENTIAL = {
    Family.CITRUS: "Citrus oils fade in soap, go off in an open bottle, and pressed ones can burn skin in the sun.",
    Family.MINT: "Mint and camphor oils sting eyes; they are not for small children, and asked about in pregnancy.",
    Family.SPICE: "Clove, cinnamon and their like are strong sensitisers and speed the batter: low doses, tried first. "
    "They carry eugenol, cinnamal and the like: allergens to declare.",
    Family.WOOD: "Some wood and resin oils are restricted or adulterated: buy with a certificate.",
    Family.FLORAL: "Floral oils often carry geraniol and citronellol: allergens to declare, and they speed the batter.",
}

# Herbs that share a family with mint, but not its sting: common practice, no source. By the beginnings of their names
# in English, German, French, Spanish and Italian, from memory.
MILD_HERBS = (
    *("lavend", "lavand", "clary", "muskateller", "sclar", "chamom", "kamill", "camomil", "manzanilla"),
    *("marjor", "majoran", "mejorana", "maggiorana", "melis", "basil", "dill", "parsley", "petersil"),
)


def _idle(recipe: Recipe) -> Iterator[Caution]:
    """Portions that the maker's own steps leave in their cups."""
    poured = {n for s in recipe.design.steps if isinstance(s, LookStep) for n in s.who}
    for i, portion in enumerate(recipe.design.portions if recipe.design.steps else ()):
        if portion.name not in poured:
            message = f"{portion.name} is in no step of the plan: it stays in its cup."
            yield Caution(pointer=f"/design/portions/{i}/share", message=message)


def _overnight(recipe: Recipe) -> Iterator[Caution]:
    """Portions whose batter would stand in its cup over a night of the plan."""
    build = build_of(recipe.design)
    for i, portion in enumerate(recipe.design.portions):
        if portion.name in build.late:
            message = f"{portion.name} would set in its cup overnight: give it its own lye on the later day."
            yield Caution(pointer=f"/design/portions/{i}/share", message=message, danger=True)


def _embeds(recipe: Recipe, shelf: Shelf) -> Iterator[Caution]:
    """Soap that is set into the batter: nobody reckons its lye here, and a step has to set it."""
    if not recipe.embeds:
        return
    yield Caution(pointer="/embeds", message="Embeds: only soap that no longer zaps. Its own lye is not reckoned here.")
    for i, embed in enumerate(recipe.embeds):
        if not embed.grams:
            message = f"Say what one of {embed.name} weighs: until then it takes up no room in the mould."
            yield Caution(pointer=f"/embeds/{i}/grams", message=message)
    acts = {s.do for s in recipe.design.steps} or {s.do for s in shelf.techniques[recipe.design.technique].steps}
    if "embed" not in acts:
        message = "No step of the plan sets the embeds: add the step for them on Plan, or choose another technique."
        yield Caution(pointer="/embeds", message=message)


def cautions_of(
    recipe: Recipe, shelf: Shelf, sheet: Sheet, doses: Sequence[tuple[float, Dose, Additive]]
) -> Iterator[Caution]:
    """Everything to say of a weighed recipe; `doses` in grams per gram of fats, in the recipe's order."""
    yield from _idle(recipe)
    yield from _embeds(recipe, shelf)
    yield from _overnight(recipe)
    yield from whites(recipe, shelf)
    low = sheet.superfat.likely.low
    if low < 0:
        message = say("The superfat may be as low as ", percent(low), ": lye heavy. ")
        message += _more_superfat(recipe, shelf, sheet)
        message += ", or use the saponification value of your own certificate, and test the bar before it is used."
        yield Caution(pointer="/superfat", message=message, danger=True)
    if sheet.lye_concentration > 0.40:
        message = say("Above 40 % the lye runs very hot and the batter moves fast. Glass and thin plastic can fail.")
        yield Caution(pointer="/water", message=message, danger=True)
    if sheet.lye_concentration < 0.25:
        yield Caution(
            pointer="/water", message="Below 25 % the batter is slow, the bar soft, and it shrinks and warps."
        )
    if recipe.koh_share > 0:
        message = say("With potassium hydroxide the soap stays softer; of how soon it thickens nothing is known.")
        yield Caution(pointer="/koh_share", message=message)
    if not recipe.feed_acids and any(a.naoh for d, _, a in doses if d):
        left = sheet.superfat.with_liquids
        hungry = left > TOO_HUNGRY
        message = say("The acids take lye from the fats: the superfat becomes ", percent(left), ".")
        message += " That is grease, not soap: give the acids lye of their own, or take less of them." if hungry else ""
        yield Caution(pointer="/feed_acids", message=message, danger=hungry)
    lots = certified(recipe, shelf)
    for i, row in enumerate(recipe.fats):
        for doubt in consistency(lots.fats[row.fat], shelf.fats):
            yield Caution(pointer=f"/fats/{i}/share", message=doubt.message, danger=doubt.danger)
    yield from _named_cautions(recipe, shelf)
    yield from _portion_cautions(sheet)
    yield from _scale_cautions(shelf, sheet)
    yield from _liquid_cautions(recipe, shelf)
    yield from _dose_cautions(shelf, sheet, doses)
    yield from _salt_cautions(sheet, doses)
    yield from _scent_cautions(recipe, sheet)
    yield from _essential_cautions(recipe, shelf)
    if recipe.pour_celsius > 55:
        message = say("Hot batter burns and can rise out of the pot: leave headroom.")
        yield Caution(pointer="/pour_celsius", message=message, danger=True)


def _more_superfat(recipe: Recipe, shelf: Shelf, sheet: Sheet) -> str:
    """What would keep it from being lye heavy: a higher superfat is of the fats alone, not of free acids."""
    free = sum(row.share for row in recipe.fats if shelf.fats[row.fat].kind == "acid")
    reach = MOST_SUPERFAT - sheet.superfat.set + sheet.superfat.likely.low
    if free > 0 and reach < 0:
        return "Free fatty acids get all their lye, whatever the superfat is: take more fat and less of them"
    return "Raise the superfat" + (
        ", which is of the fats alone: free fatty acids get all their lye" if free > 0 else ""
    )


def _portion_cautions(sheet: Sheet) -> Iterator[Caution]:
    for i, p in enumerate(sheet.portions):
        at = f"/design/portions/{i}/share"
        if p.lye_heavy:
            stands = "stands at" if p.superfat < 0 else "is likely to come as low as"
            message = say(
                p.name,
                " alone ",
                stands,
                " ",
                percent(min(p.superfat, p.likely.low)),
                " superfat: lye heavy. What brings fat into another portion is counted for the whole jug: do not count "
                "it, or put it into all of the batter.",
            )
            yield Caution(pointer=at, message=message, danger=True)
        elif p.uneven:
            whole = percent(sheet.superfat.with_liquids)
            message = say(p.name, " alone has ", percent(p.superfat), " superfat, the whole batter ", whole, ".")
            yield Caution(pointer=at, message=message)


def _named_cautions(recipe: Recipe, shelf: Shelf) -> Iterator[Caution]:
    """What the names of things warn of."""
    fats = ((f"/fats/{i}/share", shelf.fats[r.fat].name) for i, r in enumerate(recipe.fats))
    liquids = ((f"/liquids/{i}/share", shelf.liquids[u.liquid].name) for i, u in enumerate(recipe.liquids))
    doses = ((f"/additives/{i}/amount", shelf.additives[d.additive].name) for i, d in enumerate(recipe.additives))
    scents = ((f"/scents/{i}/load", shelf.fragrances[s.fragrance].name) for i, s in enumerate(recipe.scents))
    for at, name in (*fats, *liquids, *doses, *scents):
        told = shelf.told_by(name)
        if told is not None and told.kind == "harm":
            yield Caution(pointer=at, message=f"{name}: {told.message}", danger=True)


def _scale_cautions(shelf: Shelf, sheet: Sheet) -> Iterator[Caution]:
    scales = shelf.scales
    for x in sheet.lines:
        if x.kind not in ("alkali", "stock") or x.grams <= 0:
            continue
        step = scales.step(x.grams)
        if step > LYE_OFF * x.grams:
            message = say(
                x.name,
                " is read on a scale of ",
                G(step, ".4g"),
                " steps: ",
                x.shown,
                " can be ",
                percent(step / x.grams),
                " off. Make a larger batch, or weigh it on a finer scale.",
            )
            yield Caution(pointer="/superfat", message=message, danger=step / x.grams > sheet.superfat.set)
    read, whole = sheet.superfat.as_weighed, sheet.superfat.with_liquids
    if read.low < whole - COARSE or read.low < 0 <= whole:
        coarse = max((x for x in sheet.lines if x.kind == "fat"), key=lambda x: scales.step(x.grams))
        message = say(
            "Fats read on a scale of ",
            G(scales.step(coarse.grams), ".4g"),
            " steps: as weighed the superfat can be anything from ",
            percent(read.low),
            " to ",
            percent(read.high),
            ". Make a larger batch, or weigh them on a finer scale.",
        )
        yield Caution(pointer="/superfat", message=message, danger=read.low < 0)
    largest = max(sheet.lines, key=lambda x: x.grams)
    if largest.grams > scales.capacity:
        message = say(largest.name, ": ", largest.shown, " is more than your largest scale holds. Weigh it in parts.")
        yield Caution(pointer="/size", message=message)


def _liquid_cautions(recipe: Recipe, shelf: Shelf) -> Iterator[Caution]:
    for i, use in enumerate(recipe.liquids):
        q = shelf.liquids[use.liquid]
        if use.share > 0 and use.goes == "jug" and q.browns and not use.frozen:
            message = "Milk and sugar scorch in hot lye: use it frozen or ice cold, add the lye slowly, and watch it."
            yield Caution(pointer=f"/liquids/{i}/share", message=message)
        if q.alcohol > 0:
            message = "Boil the alcohol and the gas off first: it foams over with lye and speeds the batter."
            yield Caution(pointer=f"/liquids/{i}/share", message=message, danger=True)
        if q.caution and use.share > 0:
            yield Caution(pointer=f"/liquids/{i}/share", message=q.caution)


def _dose_cautions(shelf: Shelf, sheet: Sheet, doses: Sequence[tuple[float, Dose, Additive]]) -> Iterator[Caution]:
    for i, (share, dose, additive) in enumerate(doses):
        at = f"/additives/{i}/amount"
        if sheet.doses[i].per_kg > additive.most:
            yield Caution(
                pointer=at, message=say("More than the usual most of ", figure(additive.most), " g per kg of fats.")
            )
        least = min(
            (x for x in sheet.lines if x.kind == "additive" and x.row == i), key=lambda x: x.grams, default=None
        )
        if least is not None and 0 < least.grams < shelf.scales.finest:
            yield Caution(pointer=at, message=_too_fine(least, dose.carrier, shelf))
        if additive.danger and share > 0:
            yield Caution(pointer=at, message=additive.danger, danger=True)
        wrong = misplaced(dose, additive)
        if wrong is not None and share > 0:
            yield Caution(pointer=f"/additives/{i}/moment", message=wrong.message, danger=wrong.danger)


def _too_fine(least: Line, carrier: Carrier | None, shelf: Shelf) -> Text:
    """How what the finest scale does not show is weighed all the same: more of it in what it is dispersed in, which is
    then dispersed as well."""
    grams, scales = least.grams, shelf.scales
    of = "oil" if carrier is None else shelf.fats[carrier.fat].name.lower() if carrier.fat else "water"
    fewest = carrier.parts + 1 if carrier is not None else 0
    parts = next((n for n in (fewest, 10, 100, 1000) if n >= fewest and grams * n >= FINE * scales.finest), 1000)
    return say(
        G(grams, ".2g"),
        f" for {least.into}" if least.into else "",
        " is less than your finest scale shows. Stir 1 part into ",
        figure(parts - 1),
        f" of {of} and weigh ",
        scales.shown(grams * parts),
        " of that.",
    )


def _salt_cautions(sheet: Sheet, doses: Sequence[tuple[float, Dose, Additive]]) -> Iterator[Caution]:
    """How much salt the lye will not hold, and how soon a salt bar must be cut."""
    salts = [(i, g, d, a) for i, (g, d, a) in enumerate(doses) if a.kind == "salt" and a.factor == "salt" and g > 0]
    if not salts:
        return
    held = float(np.interp(sheet.lye_concentration, LYE_SHARES, SALT_HELD)) * sheet.water
    wet = [(i, g * sheet.fats) for i, g, d, a in salts if moment_of(d, a) in ("before-lye", "hot-lye", "cool-lye")]
    dissolving = sum(g for _, g in wet)
    if dissolving > held:
        message = say(
            "Of ",
            G(dissolving, ".0f"),
            " salt this lye holds only about ",
            G(held, ".0f"),
            "; the rest falls out and cakes in the jug. Stir the greater part in at emulsion.",
        )
        yield Caution(pointer=f"/additives/{wet[0][0]}/amount", message=message)
    if sum(g for _, g, _, _ in salts) >= SALT_BAR:
        message = say(
            "So much salt sets within hours and crumbles under the knife: cut it warm, or pour single moulds."
        )
        yield Caution(pointer=f"/additives/{salts[0][0]}/amount", message=message)


def _portion(recipe: Recipe, name: str) -> Portion:
    return next(p for p in recipe.design.portions if p.name == name)


def _scent_cautions(recipe: Recipe, sheet: Sheet) -> Iterator[Caution]:
    guess = "the forecast is a guess, and the supplier's limit is easily passed."
    for i, scent in enumerate(recipe.scents):
        if scent.load > MUCH_SCENT:
            yield Caution(pointer=f"/scents/{i}/load", message=f"Above 6 % {guess}")
    whole = sum(s.load for s in recipe.scents)
    for i, portion in enumerate(recipe.design.portions if recipe.design.scents_apart else ()):
        if whole * portion.scent > MUCH_SCENT >= whole:
            message = say(portion.name, " gets ", percent(whole * portion.scent), " of its fats: above 6 % ", guess)
            yield Caution(pointer=f"/design/portions/{i}/scent", message=message)
    if recipe.scents and not recipe.scented_share:
        yield Caution(pointer="/scents/0/load", message="No portion is scented, so no fragrance is weighed.")
    over = [(i, p) for i, p in enumerate(sheet.portions) if p.limit_use > 1]
    full = [p for _, p in over if not recipe.design.scents_apart or _portion(recipe, p.name).scent <= 1]
    if full:
        strongest = max(full, key=lambda p: p.limit_use)
        message = say(
            "The cured bar holds ",
            figure(strongest.limit_use, ".2f"),
            " times the fragrance its certificates allow together. Use less; the supplier's certificate rules.",
        )
        yield Caution(pointer=f"/scents/{len(recipe.scents) - 1}/load", message=message, danger=True)
    for i, p in over:
        if p not in full:
            message = say(
                p.name,
                " alone gets ",
                figure(_portion(recipe, p.name).scent),
                " times the dose: its bar holds ",
                figure(p.limit_use, ".2f"),
                " times what the certificates allow.",
            )
            yield Caution(pointer=f"/design/portions/{i}/scent", message=message, danger=True)
    if recipe.scents and recipe.design.scent_at == "fats":
        message = say("Scent in the fats leaves no way back: only for one that was tried in this recipe.")
        yield Caution(pointer="/design/scent_at", message=message)
    if recipe.scents and not recipe.design.scents_apart:
        plain = [p.name for p in recipe.design.portions if not p.scented]
        if plain:
            message = say("Scent in the whole pot reaches ", ", ".join(plain), " too.")
            yield Caution(pointer="/design/scent_at", message=message)


def _essential_cautions(recipe: Recipe, shelf: Shelf) -> Iterator[Caution]:
    for i, scent in enumerate(recipe.scents):
        at = f"/scents/{i}/load"
        bottle = shelf.fragrances[scent.fragrance]
        for fragrance in shelf.inside(bottle) if scent.load > 0 else ():
            if not fragrance.essential or (fragrance.parts and len(shelf.inside(fragrance)) > 1):
                continue  # of a blend its parts are spoken of
            if fragrance.family in ESSENTIAL and not _mild(fragrance):
                yield Caution(pointer=at, message=ESSENTIAL[fragrance.family])
            if fragrance.limit is None and not (bottle.bottled and bottle.limit):
                message = f"{fragrance.name}: an essential oil without a limit on the shelf. Its certificate has one."
                yield Caution(pointer=at, message=message)


def _mild(fragrance: Fragrance) -> bool:
    """A herb of the mint family that is none of those whose oil stings."""
    return fragrance.family is Family.MINT and any(w in fragrance.name.casefold() for w in MILD_HERBS)
