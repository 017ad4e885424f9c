"""Words of the trade, explained."""

from ..text import Text
from ..values import Id, Name, Value


class Word(Value):
    """A word, others for it, what it means, and what is drawn beside it: a stage of trace, a technique's face, a vessel
    or a drawing of the page."""

    id: Id
    word: Name
    also: tuple[str, ...] = ()
    text: Text
    picture: str
