"""What the maker means to make: the recipe, its mould, its design, and where each thing goes in.

Lenient in shape, so that a half-typed draft can be kept; it judges nothing but the design.
"""

from .blending import blend_of, taken_apart, with_blend
from .build import Build, build_of, days_apart, is_night
from .design import check
from .fill import CutPlan, Leaning, cut_plan, leaning, stands, steepest
from .lift import EARLIER, NOW
from .mould import SOAP_DENSITY, free, grid, millilitres
from .order import MISPLACED, misplaced, moment_of, vessel_of, words
from .pattern import Pattern, pattern_of, with_pattern
from .recipe import (
    LYE_STANDS,
    MOST_PLANNED,
    MOST_PORTIONS,
    MOST_SCENT,
    MOST_SCENTS,
    MOST_STEPS,
    ONE_PORTION,
    PLAIN,
    Basis,
    Box,
    Brief,
    ByConcentration,
    ByFats,
    ByMoulds,
    ByRatio,
    ByWeight,
    Carrier,
    Cavities,
    Design,
    Dose,
    Embed,
    FatShare,
    LiquidUse,
    LyeStands,
    Portion,
    Recipe,
    Scent,
    Size,
    StandBy,
    Topping,
    Tube,
    WaterRule,
    Wrap,
)
from .starter import MouldPreset, Starter, UsualPour, as_usual, blank
from .steps import (
    INTO_MOULD,
    ON_MOULD,
    BlendStep,
    ColourStep,
    CombineStep,
    DropStep,
    EmbedStep,
    LayerStep,
    LookStep,
    PassStep,
    PipeStep,
    PourStep,
    ScentStep,
    SpareStep,
    SplitStep,
    SpoonStep,
    Step,
    TopStep,
    WaitStep,
)
from .top import BARS, PRESSED, ROWS, TOPPING_WORDS, Placement, Spot, placed
