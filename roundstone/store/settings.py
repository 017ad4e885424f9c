"""Settings of a workshop, each a small document under its name, and those that have a meaning of their own."""

from collections.abc import Callable
from typing import Any

from ..core.logbook import Selling
from ..core.recipe import UsualPour
from ..core.shelf import USUAL_HUMIDITY, USUAL_SCALES, Habit, Scales
from ..core.simulate import Utility
from ..core.units import Units
from .database import Database

SELLING = "selling"


class Settings:
    """What the maker set, or what is usual."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def get(self, name: str) -> dict[str, Any] | None:
        """What is kept under a name; not to be changed in place."""
        return self._database.setting(name)

    def change(self, name: str, change: Callable[[dict[str, Any] | None], dict[str, Any]]) -> None:
        """Change what is kept under a name, by what stands there, in one transaction."""
        self._database.change_setting(name, change)

    def keep(self, name: str, doc: dict[str, Any]) -> None:
        """Put this in the place of what was kept under a name."""
        self._database.keep_setting(name, doc)

    def scales(self) -> Scales:
        """The maker's scales, as set or as usual."""
        kept, unit = self.get("scales"), self.units().weight
        return USUAL_SCALES[unit] if kept is None else Scales.model_validate({**kept, "unit": unit})

    def units(self) -> Units:
        """The units the maker reads."""
        return Units.model_validate(self.get("units") or {})

    def taps(self) -> Habit:
        """How the maker taps, as asked once."""
        kept = self.get("taps")
        return "turns" if kept is not None and kept.get("taps") == "turns" else "looks"

    def humidity(self) -> float:
        """Relative humidity where soap cures, as set or as usual."""
        return float((self.get("air") or {}).get("humidity", USUAL_HUMIDITY))

    def usual_pour(self) -> UsualPour:
        """How warm it is usually poured, and in what room, as far as that was set."""
        return UsualPour.model_validate(self.get("usual") or {})

    def utility(self) -> Utility:
        """What an outcome is worth to the maker, as set or as usual."""
        return Utility(**(self.get("worth") or {}))

    def selling(self) -> Selling:
        """What the workshop set for what it sells."""
        return Selling.model_validate(self.get(SELLING) or {})
