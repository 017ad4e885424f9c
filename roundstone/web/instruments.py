"""Thermometer and scale: which there are, and a reading of one."""

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.instruments import Instrument, InstrumentKind, Shown
from ..core.values import NotFoundError
from ..standins.instruments import SimulatedScale, SimulatedThermometer
from . import messages as m
from .context import AppContext, answer

SETTING = "instruments"


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the instruments' routes. Only simulated ones ship; a driver of a real one is another `Instrument`."""
    standins: dict[InstrumentKind, Instrument] = {
        "thermometer": SimulatedThermometer(context.now, context.now()),
        "scale": SimulatedScale(context.now),
    }

    def there() -> dict[InstrumentKind, Instrument]:
        kept = context.workshop.settings.get(SETTING)
        return standins if kept is not None and kept.get("simulated") else {}

    @api.get("/instruments", responses={200: m.InstrumentsThere})
    def get_instruments() -> Response:
        found = there()
        return answer(m.InstrumentsThere(thermometer="thermometer" in found, scale="scale" in found))

    @api.put("/instruments", responses={200: m.InstrumentsThere})
    def put_instruments(body: m.InstrumentsSet) -> Response:
        context.workshop.settings.keep(SETTING, body.model_dump())
        return get_instruments()

    @api.get("/instruments/<kind>", responses={200: Shown})
    def get_reading(path: m.InstrumentPath) -> Response:
        found = there()
        if path.kind not in found:
            raise NotFoundError(f"No {path.kind} is connected: key the reading in by hand.")
        try:
            return answer(found[path.kind].read())
        except OSError as error:
            raise NotFoundError(f"The {path.kind} does not answer: key the reading in by hand.") from error
