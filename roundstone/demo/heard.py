"""What three other workshops, as invented as this one, told of their fragrances."""

from datetime import datetime, timedelta

from ..core.evidence import Cell, Evidence, SpeedSeen, ToldOf
from ..core.shelf import Claim, Counted, Family, KnownAs, Reviews
from ..store import Workshop

# Name, code, family, claim; times as soon, low, high, pours, looks; riced, seized of asked.
_Row = tuple[str, str, Family, Claim, tuple[float, float, float, int, int], tuple[int, int, int]]
_TOLD: dict[str, tuple[_Row, ...]] = {
    "51a7e000000000000000000000000001": (
        ("Plum stone", "PS-7", Family.MUSK, Claim.UNKNOWN, (2.1, 1.5, 2.9, 9, 41), (1, 0, 9)),
        ("Iris root", "", Family.FLORAL, Claim.STRONG, (4.6, 2.9, 7.3, 4, 15), (2, 1, 4)),
        ("Hayloft", "HL-2", Family.WOOD, Claim.NONE, (1.0, 0.8, 1.25, 12, 60), (0, 0, 12)),
    ),
    "51a7e000000000000000000000000002": (
        ("Plum stone", "PS-7", Family.MUSK, Claim.UNKNOWN, (2.7, 1.7, 4.3, 3, 12), (0, 0, 3)),
        ("Green tomato leaf", "", Family.FRESH, Claim.NONE, (2.2, 1.7, 2.9, 7, 30), (0, 0, 6)),
    ),
    "51a7e000000000000000000000000003": (
        ("Plum stone", "ps 7", Family.MUSK, Claim.UNKNOWN, (1.7, 1.2, 2.4, 5, 19), (1, 0, 5)),
        ("Hayloft", "HL-2", Family.WOOD, Claim.NONE, (1.1, 0.8, 1.5, 5, 22), (0, 0, 5)),
    ),
}


def hear(workshop: Workshop, now: datetime) -> None:
    """Read their files, say whose plum stone it is, and count what was read about it."""
    for n, (name, rows) in enumerate(_TOLD.items()):
        told = tuple(
            ToldOf(
                name=called,
                code=code,
                family=family,
                claim=claim,
                speed=SpeedSeen(times=times, low=low, high=high, pours=pours, looks=looks),
                riced=(Cell(load="usual", warmth="middle", seen=riced, asked=asked),),
                seized=(Cell(load="usual", warmth="middle", seen=seized, asked=asked),),
                held=Counted(seen=pours - 1, asked=pours),
            )
            for called, code, family, claim, (times, low, high, pours, looks), (riced, seized, asked) in rows
        )
        workshop.evidence.take_in(Evidence(workshop=name, edition=1, fragrances=told), now - timedelta(days=9 - n))
    plum = workshop.ingredients.fragrance("plum-stone")
    known = (KnownAs(name="Plum stone", code="PS-7"),)
    workshop.ingredients.change_fragrances(
        [plum.model_copy(update={"known_as": known, "reviews": Reviews(calm=14, riced=2)})]
    )
