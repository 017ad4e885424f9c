"""What every pour and everything made here took from the lots, and what is left of them."""

from datetime import datetime
from typing import NamedTuple

from ..core.sheet import Allocation, LotLeft, Use, allocate, left, makings, used
from ..core.values import Grams
from ..store import Workshop


class _Taken(NamedTuple):
    stamp: tuple[object, ...]
    allocation: Allocation
    left: tuple[LotLeft, ...]


class Stocktaking:
    """The stock of a workshop, reckoned anew when a lot was edited or a pour begun: of those items alone."""

    def __init__(self, workshop: Workshop) -> None:
        self._workshop = workshop
        self.forget()

    def forget(self) -> None:
        """Another workshop stands in the file."""
        self._needs: dict[int, dict[str, Grams]] = {}
        self._uses: tuple[tuple[object, ...], list[Use]] | None = None
        self._taken: _Taken | None = None

    def need(self, version: int) -> dict[str, Grams]:
        """Grams of each item a poured version needs; it never changes, so it is weighed once."""
        if version not in self._needs:
            sheet = self._workshop.recipes.sheet(version)
            self._needs[version] = used(sheet.lines) if sheet else {}
        return self._needs[version]

    def _poured(self, since: datetime) -> list[Use]:
        """What the pours begun since then took."""
        stamp = (since, *self._workshop.stamps.poured())
        if self._uses is None or self._uses[0] != stamp:
            known = {u.pour: u for u in self._uses[1]} if self._uses is not None else {}
            rows = self._workshop.pours.poured(since)
            uses = [known.get(i) or Use(at=started, grams=self.need(row), pour=i) for i, row, started in rows]
            self._uses = (stamp, uses)
        return self._uses[1]

    def _now(self) -> _Taken:
        stamp = self._workshop.stamps.stock()
        before = self._taken
        if before is not None and before.stamp == stamp:
            return before
        lots, away = self._workshop.lots.ever()
        uses = makings(lots)
        if lots:  # what was poured before the first count took nothing of them
            since = min(lot.counts[0].at for lot in lots.values())
            uses += self._poured(since)
        allocation = allocate(lots, uses, away, before.allocation if before is not None else None)
        numbers = self._workshop.lots.revisions()
        rest = tuple(x.model_copy(update={"revision": numbers.get(x.id, 1)}) for x in left(allocation))
        self._taken = _Taken(stamp, allocation, rest)
        return self._taken

    def allocation(self) -> Allocation:
        """All that was taken, and from which lots."""
        return self._now().allocation

    def left(self) -> tuple[LotLeft, ...]:
        """What is left of every lot after all pours."""
        return self._now().left
