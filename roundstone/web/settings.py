"""What a workshop sets once."""

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.recipe import UsualPour
from ..core.said import C, Units
from ..core.values import Fault, RuleBroken
from . import messages as m
from .context import Bench, answer


def copies_view(bench: Bench) -> m.CopiesView:
    """The copies of the data file, and where they go."""
    copies = bench.keeper.copies()
    return m.CopiesView(
        file=str(bench.workshop.path),
        folder=str(copies.folder),
        keep=copies.keep,
        copies=[m.CopyMade(name=k.path.name, made=k.made, size=k.size) for k in copies.all()[:50]],
        trouble=bench.keeper.trouble,
    )


def settings_view(bench: Bench) -> m.Settings:
    """Everything a workshop sets once."""
    workshop = bench.workshop
    return m.Settings(
        scales=workshop.scales(),
        units=workshop.units(),
        copies=copies_view(bench),
        taps=workshop.taps(),
        worth=m.WorthSet(**vars(workshop.worth())),
        humidity=workshop.humidity(),
        usual=workshop.usual_pour(),
    )


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the settings' routes."""
    workshop = bench.workshop

    @api.get("/settings", responses={200: m.Settings})
    def get_settings() -> Response:
        return answer(settings_view(bench))

    @api.put("/settings/scales", responses={200: m.Settings})
    def put_scales(body: m.ScalesSet) -> Response:
        workshop.keep_setting("scales", body.model_dump(mode="json"))
        return answer(settings_view(bench))

    @api.get("/settings/units", responses={200: Units})
    def get_units() -> Response:
        return answer(workshop.units())

    @api.put("/settings/units", responses={200: m.Settings})
    def put_units(body: Units) -> Response:
        """The units a maker reads; everything sent and kept stays metric."""
        workshop.keep_setting("units", body.model_dump())
        return answer(settings_view(bench))

    @api.put("/settings/taps", responses={200: m.Settings})
    def put_taps(body: m.TapsSet) -> Response:
        workshop.keep_setting("taps", body.model_dump())
        return answer(settings_view(bench))

    @api.put("/settings/usual", responses={200: m.Settings})
    def put_usual(body: UsualPour) -> Response:
        """How warm new recipes are poured, and in what room."""
        for field, (low, high) in (("pour_celsius", (10, 75)), ("room_celsius", (0, 45))):
            value = getattr(body, field)
            if value is not None and not low <= value <= high:
                raise RuleBroken(Fault(pointer=f"/{field}", says=f"From {low}{C} to {high}{C}."))
        workshop.keep_setting("usual", body.model_dump())
        return answer(settings_view(bench))

    @api.put("/settings/air", responses={200: m.Settings})
    def put_air(body: m.AirSet) -> Response:
        workshop.keep_setting("air", body.model_dump())
        return answer(settings_view(bench))

    @api.put("/settings/worth", responses={200: m.Settings})
    def put_worth(body: m.WorthSet) -> Response:
        if not body.drawn > body.different > body.lost:
            says = "What comes as drawn is worth most, what is lost least."
            raise RuleBroken(Fault(pointer="/different", says=says))
        workshop.keep_setting("worth", body.model_dump())
        return answer(settings_view(bench))
