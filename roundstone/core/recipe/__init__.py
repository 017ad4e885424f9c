"""What the maker means to make: the recipe, its mould, its design, and where each thing goes in.

Lenient in shape, so that a half-typed draft can be kept; it judges nothing but the design.
"""

from .design import check
from .mould import millilitres
from .order import MISPLACED, misplaced, moment_of, vessel_of, words
from .recipe import (
    MOST_PORTIONS,
    MOST_SCENT,
    Basis,
    Box,
    ByConcentration,
    ByFats,
    ByMoulds,
    ByRatio,
    ByWeight,
    Carrier,
    Cavities,
    Design,
    Dose,
    FatShare,
    LiquidUse,
    Portion,
    Recipe,
    Scent,
    Size,
    Tube,
    WaterRule,
    Wrap,
)
from .steps import (
    INTO_MOULD,
    ON_MOULD,
    BlendStep,
    ColourStep,
    CombineStep,
    LayerStep,
    LookStep,
    PourStep,
    ScentStep,
    SplitStep,
    Step,
    WaitStep,
)
