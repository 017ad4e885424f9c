"""Acts on a recipe that the server reckons: each is a value that is sent, and a case of `adjust`."""

from typing import Annotated, Literal

from pydantic import Field

from ..values import Grams, Id, Name, Share, Value


class FatGrams(Value):
    """The row weighs this much. By weight every other fat keeps its grams and the pot grows; a full mould stays full,
    and those not to `keep` share what is left (`to_weigh`).
    """

    kind: Literal["fat_grams"] = "fat_grams"
    row: int
    grams: Grams
    keep: tuple[int, ...] = ()


class Balance(Value):
    """All fats make 100 % again: the kept rows stay, the others are scaled in proportion."""

    kind: Literal["balance"] = "balance"
    keep: tuple[int, ...] = ()


class FatTyped(Value):
    """The row has this share; rows to `keep` stay, and the others share what is left in proportion.

    Where they cannot, the share stands as typed, and the recipe says what is missing.
    """

    kind: Literal["fat_share"] = "fat_share"
    row: int
    share: Share
    keep: tuple[int, ...] = ()


class AddFat(Value):
    """A new fat gets what is missing to 100 %, else a small share from the others, those to `keep` last.

    With `on_top` every fat keeps its grams and the pot grows instead, as when a list of weights is typed.
    """

    kind: Literal["add_fat"] = "add_fat"
    fat: Id
    keep: tuple[int, ...] = ()
    on_top: bool = False


class AddPortion(Value):
    """A new portion is cut from the largest, so the whole stays whole; it is scented as all are unless it is said."""

    kind: Literal["add_portion"] = "add_portion"


class TakePortion(Value):
    """A portion is taken out; the first of the others gets its share."""

    kind: Literal["take_portion"] = "take_portion"
    row: int


class PortionPerMould(Value):
    """One master batter for several moulds: a portion for each, by what it holds, with its own additions."""

    kind: Literal["portion_per_mould"] = "portion_per_mould"


class PortionAmount(Value):
    """A portion is so much of the batter: percent of it, grams, or cups. The one that is the rest, else the largest of
    the others that nobody typed (`keep`), takes what that leaves; where it cannot, the share stands as typed.
    """

    kind: Literal["portion_amount"] = "portion_amount"
    row: int
    amount: float
    unit: Literal["%", "g", "cup"] = "%"
    keep: tuple[int, ...] = Field(default=(), max_length=24)


class PortionScent(Value):
    """A portion gets so many grams of the fragrance."""

    kind: Literal["portion_scent"] = "portion_scent"
    row: int
    grams: Grams


class RenamePortion(Value):
    """A portion has another name, wherever it is named: in doses, steps, what is taken from it, what stands ready."""

    kind: Literal["rename_portion"] = "rename_portion"
    row: int
    name: Name


class MovePortion(Value):
    """A portion stands at another place in the ledger."""

    kind: Literal["move_portion"] = "move_portion"
    row: int
    to: int


Act = Annotated[
    FatGrams
    | FatTyped
    | Balance
    | AddFat
    | AddPortion
    | TakePortion
    | PortionPerMould
    | PortionAmount
    | PortionScent
    | RenamePortion
    | MovePortion,
    Field(discriminator="kind"),
]
