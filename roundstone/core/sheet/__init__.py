"""What is weighed: a recipe as a sheet of lines, or its faults, never both.

With all that is reckoned from weights alone: cautions, bar, label, lots, comparison, edits.
"""

from .acts import Act, AddFat, AddPortion, Balance, FatGrams, FatTyped, PortionAmount, PortionPerMould, TakePortion
from .adjust import adjust
from .allocation import Allocation, Use, allocate, left, makings
from .bar import describe
from .checks import percent
from .colours import SetColours, fitted, with_colours
from .compare import Comparison, compare
from .doses import per_gram, spoons
from .follow import following
from .from_weights import Weighed, recipe_of
from .label import Label, label
from .limits import CURED, limit_use
from .lots import (
    OFFCUTS,
    PRECISE,
    Lot,
    LotEdit,
    LotLeft,
    MakeLot,
    Taken,
    as_made,
    check_lot,
    in_hand,
    item_names,
    made_lot,
    recount,
    used,
)
from .orders import OrderLine, Planned, times_to_pour, to_order
from .place import COLOURING, AddThing, Disperse, MoveDose, MoveThing, PlaceAct, PlaceEdit, TakeDose, place
from .retold import retold
from .sheet import Line, PortionWeight, Sheet, Weighing, grams_of
from .size import BarsWanted, SizeWords, called, size_words, with_bars
from .supply import Supply, supply
from .to_weigh import ToWeigh, to_weigh
from .traced import Bottle, bottles, taken_from
from .weigh import weigh
from .whites import GELS, vanillin_in
