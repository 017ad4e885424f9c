"""A row of the ledger: one portion, its cup, its colours and its scent."""

from ..face import Aged, Tint
from ..text import Text
from ..values import Grams, Share, Value


class CupColour(Value):
    """A colourant of one cup: grams, level teaspoons in words, and spoons to a cup of batter. `others` are the portions
    that get it at the same dose."""

    name: str
    grams: Grams
    shown: Text
    spoons: str
    a_cup: str
    tiny: bool
    row: int
    others: tuple[str, ...] = ()


class LedgerRow(Value):
    """A portion, by its place `portion` in the design; `vessel` is what to write on its cup.

    It is poured off `source` ("" the pot) until that reads `until`, having read `reads`; who `stays` is what is left.
    One combined by itself is `raw` shares of pot and jug. `in_mould` is what gets there, `kept` what of it is kept for
    the top. `height` is its layer in the mould, cm, and `a_percent` what one percent more would add to that.
    """

    portion: int
    name: str
    vessel: str
    tint: Tint
    aged: Aged
    share: Share
    batter: Grams
    shown: Text
    cups: float
    source: str
    batch: str
    stays: bool
    reads: Text
    until: Text
    raw: Text
    scent: Grams
    scent_shown: Text
    scent_share: Share
    scent_says: Text
    colours: tuple[CupColour, ...]
    in_mould: Grams
    kept: Text
    superfat: Share
    uneven: bool
    height: float | None
    a_percent: float | None
