"""Cautions beside a sheet: allowed, but someone or the batch can be hurt. Common practice where no source is named."""

from collections.abc import Iterator, Sequence

from .checks import percent
from .order import misplaced
from .recipe import Dose, Recipe
from .sheet import Sheet
from .shelf import Additive, Family, Shelf
from .values import Caution

SCALE_STEP = 0.1  # grams a usual bench scale shows [chosen]

# Essential oils by their kind: common practice, no source; certificates and local rules decide.
ESSENTIAL = {
    Family.CITRUS: "Citrus oils fade in soap, go off in an open bottle, and pressed ones can burn skin in the sun.",
    Family.MINT: "Mint and camphor oils sting eyes; they are not for small children, and asked about in pregnancy.",
    Family.SPICE: "Clove, cinnamon and their like are strong sensitisers and speed the batter: low doses, tried first.",
    Family.WOOD: "Some wood and resin oils are restricted or adulterated: buy with a certificate.",
    Family.FLORAL: "Floral oils often carry geraniol and citronellol: allergens to declare, and they speed the batter.",
}


def cautions_of(
    recipe: Recipe, shelf: Shelf, sheet: Sheet, doses: Sequence[tuple[float, Dose, Additive]]
) -> Iterator[Caution]:
    """Everything to say of a weighed recipe; `doses` in grams per gram of fats, in the recipe's order."""
    low = sheet.superfat.extreme.low
    if low < 0:
        sure = sheet.superfat.likely.low < 0
        says = (
            f"With every fat at the low end of its range the superfat would be {percent(low)}: lye heavy. "
            + ("Raise the superfat" if sure else "Consider a higher superfat")
            + ", or use the saponification value of your own certificate, and test the bar before it is used."
        )
        yield Caution(pointer="/superfat", says=says, danger=sure)
    if sheet.lye_concentration > 0.40:
        says = "Above 40 % the lye runs very hot and the batter moves fast. Glass and thin plastic can fail."
        yield Caution(pointer="/water", says=says, danger=True)
    if sheet.lye_concentration < 0.25:
        yield Caution(pointer="/water", says="Below 25 % the batter is slow, the bar soft, and it shrinks and warps.")
    if recipe.koh_share > 0:
        says = "With potassium hydroxide the soap stays softer; the batter clock knows sodium soap only."
        yield Caution(pointer="/koh_share", says=says)
    if not recipe.feed_acids and any(a.naoh for d, _, a in doses if d):
        says = f"The acids take lye from the fats: the superfat becomes {percent(sheet.superfat.with_liquids)}."
        yield Caution(pointer="/feed_acids", says=says)
    yield from _liquid_cautions(recipe, shelf)
    yield from _dose_cautions(sheet, doses)
    yield from _scent_cautions(recipe, sheet)
    yield from _essential_cautions(recipe, shelf)
    if recipe.pour_celsius > 55:
        says = "Hot batter burns and can rise out of the pot: leave headroom."
        yield Caution(pointer="/pour_celsius", says=says, danger=True)


def _liquid_cautions(recipe: Recipe, shelf: Shelf) -> Iterator[Caution]:
    for i, use in enumerate(recipe.liquids):
        q = shelf.liquids[use.liquid]
        if use.share > 0 and use.goes == "jug" and (q.kind == "milk" or q.sugars > 0.03) and not use.frozen:
            says = "Milk and sugar scorch in hot lye: use it frozen or ice cold, add the lye slowly, and watch it."
            yield Caution(pointer=f"/liquids/{i}/share", says=says)
        if q.alcohol > 0:
            says = "Boil the alcohol and the gas off first: it foams over with lye and speeds the batter."
            yield Caution(pointer=f"/liquids/{i}/share", says=says, danger=True)


def _dose_cautions(sheet: Sheet, doses: Sequence[tuple[float, Dose, Additive]]) -> Iterator[Caution]:
    for i, (share, dose, additive) in enumerate(doses):
        at = f"/additives/{i}/amount"
        if sheet.doses[i].per_kg > additive.most:
            yield Caution(pointer=at, says=f"More than the usual most of {additive.most:g} g per kg of fats.")
        grams = share * sheet.fats
        if 0 < grams < SCALE_STEP:
            parts = 10 if grams * 10 >= SCALE_STEP else 100
            says = (
                f"{grams:.2g} g is less than a {SCALE_STEP:g} g scale shows. Stir 1 part into {parts - 1} of oil and "
                f"weigh {grams * parts:.1f} g of that."
            )
            yield Caution(pointer=at, says=says)
        if additive.danger and share > 0:
            yield Caution(pointer=at, says=additive.danger, danger=True)
        wrong = misplaced(dose, additive)
        if wrong is not None and share > 0:
            yield Caution(pointer=f"/additives/{i}/moment", says=wrong.says, danger=wrong.danger)


def _scent_cautions(recipe: Recipe, sheet: Sheet) -> Iterator[Caution]:
    for i, scent in enumerate(recipe.scents):
        if scent.load > 0.06:
            says = "Above 6 % the forecast is a guess, and the supplier's limit is easily passed."
            yield Caution(pointer=f"/scents/{i}/load", says=says)
    if recipe.scents and not recipe.scented_share:
        yield Caution(pointer="/scents/0/load", says="No portion is scented, so no fragrance is weighed.")
    if sheet.limit is not None and sheet.limit.cured > 1:
        says = (
            f"The cured bar holds {sheet.limit.cured:.2f} times the fragrance its certificates allow together. "
            "Use less; the supplier's certificate rules."
        )
        yield Caution(pointer=f"/scents/{len(recipe.scents) - 1}/load", says=says, danger=True)
    if recipe.scents and recipe.design.scent_at == "fats":
        says = "Scent in the fats leaves no way back: only for one that was tried in this recipe."
        yield Caution(pointer="/design/scent_at", says=says)
    if recipe.scents and recipe.design.scent_at != "portions":
        plain = [p.name for p in recipe.design.portions if not p.scented]
        if plain:
            says = f"Scent in the whole pot reaches {', '.join(plain)} too."
            yield Caution(pointer="/design/scent_at", says=says)


def _essential_cautions(recipe: Recipe, shelf: Shelf) -> Iterator[Caution]:
    for i, scent in enumerate(recipe.scents):
        fragrance = shelf.fragrances[scent.fragrance]
        if scent.load > 0 and fragrance.essential:
            at = f"/scents/{i}/load"
            if fragrance.family in ESSENTIAL:
                yield Caution(pointer=at, says=ESSENTIAL[fragrance.family])
            if fragrance.limit is None:
                says = f"{fragrance.name}: an essential oil without a limit on the shelf. Its certificate has one."
                yield Caution(pointer=at, says=says)
