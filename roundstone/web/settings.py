"""What a workshop sets once."""

from datetime import datetime

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import Selling, check_pattern, numbered
from ..core.recipe import UsualPour
from ..core.text import C, say
from ..core.units import Units
from ..core.values import Fault, RuleError
from ..store.settings import SELLING
from . import messages as m
from .context import AppContext, answer, local


def copies_view(context: AppContext) -> m.CopiesView:
    """The copies of the data file, and where they go."""
    copies = context.keeper.copies()
    return m.CopiesView(
        file=str(context.workshop.path),
        folder=str(copies.folder),
        keep=copies.keep,
        copies=[m.CopyMade(name=k.path.name, made=k.made, size=k.size) for k in copies.all()[:50]],
        trouble=context.keeper.trouble,
    )


def settings_view(context: AppContext) -> m.Settings:
    """Everything a workshop sets once."""
    workshop = context.workshop
    return m.Settings(
        scales=workshop.settings.scales(),
        units=workshop.settings.units(),
        copies=copies_view(context),
        taps=workshop.settings.taps(),
        utility=m.UtilitySet(**vars(workshop.settings.utility())),
        humidity=workshop.settings.humidity(),
        usual=workshop.settings.usual_pour(),
        selling=workshop.settings.selling(),
        example=numbered(workshop.settings.selling().pattern, day_of(context.now()), 12),
    )


def day_of(moment: datetime) -> tuple[int, int, int]:
    """Year, month and day on the reader's clock."""
    at = local(moment)
    return at.year, at.month, at.day


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the settings' routes."""
    workshop = context.workshop

    @api.get("/settings", responses={200: m.Settings})
    def get_settings() -> Response:
        return answer(settings_view(context))

    @api.put("/settings/scales", responses={200: m.Settings})
    def put_scales(body: m.ScalesSet) -> Response:
        workshop.settings.keep("scales", body.model_dump(mode="json"))
        return answer(settings_view(context))

    @api.get("/settings/units", responses={200: Units})
    def get_units() -> Response:
        return answer(workshop.settings.units())

    @api.put("/settings/units", responses={200: m.Settings})
    def put_units(body: Units) -> Response:
        """The units a maker reads; everything sent and kept stays metric."""
        workshop.settings.keep("units", body.model_dump())
        return answer(settings_view(context))

    @api.put("/settings/taps", responses={200: m.Settings})
    def put_taps(body: m.TapsSet) -> Response:
        workshop.settings.keep("taps", body.model_dump())
        return answer(settings_view(context))

    @api.put("/settings/usual", responses={200: m.Settings})
    def put_usual(body: UsualPour) -> Response:
        """How warm new recipes are poured, and in what room."""
        for field, (low, high) in (("pour_celsius", (10, 75)), ("room_celsius", (0, 45))):
            value = getattr(body, field)
            if value is not None and not low <= value <= high:
                raise RuleError(Fault(pointer=f"/{field}", message=say("From ", C(low), " to ", C(high), ".")))
        workshop.settings.keep("usual", body.model_dump())
        return answer(settings_view(context))

    @api.put("/settings/air", responses={200: m.Settings})
    def put_air(body: m.AirSet) -> Response:
        workshop.settings.keep("air", body.model_dump())
        return answer(settings_view(context))

    @api.put("/settings/selling", responses={200: m.Settings})
    def put_selling(body: Selling) -> Response:
        """How batches are numbered from now on; those so far that have no number get theirs."""
        check_pattern(body.pattern)
        workshop.settings.keep(SELLING, body.model_dump())
        workshop.numbers.give(local)
        return answer(settings_view(context))

    @api.put("/settings/utility", responses={200: m.Settings})
    def put_utility(body: m.UtilitySet) -> Response:
        if not body.drawn > body.different > body.lost:
            message = "What comes as planned is worth most, what is lost least."
            raise RuleError(Fault(pointer="/different", message=message))
        workshop.settings.keep("worth", body.model_dump())
        return answer(settings_view(context))
