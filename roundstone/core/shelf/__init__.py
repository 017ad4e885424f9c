"""What stands on the shelf: ingredients, fragrances, scales, and the words for trace.

What a row of it says is a fact with its source; nothing here knows a recipe.
"""

from .blends import after_a_part, blended, in_a_bottle, parents
from .chemistry import ACID_FORMULA, KOH, NAOH, SOUR, WATER, acid_naoh, acid_value
from .custom import (
    LEAST_SV,
    MOST_SV,
    Ingredient,
    NewAdditive,
    NewFat,
    NewIngredient,
    NewLiquid,
    by_certificate,
    consistency,
    make,
    refused_sv,
    warned_by_name,
)
from .made import IntoPremix, NewInfusion, NewPremix
from .moments import MISPLACED, MOMENT_IN, PUT, WHEN, Misplaced
from .names import Telling, plain_words
from .others import LEAST_TIMES, MOST_TIMES, Counted, KnownAs, Normal, Others, Reviews
from .scales import USUAL_SCALES, Scale, Scales
from .shelf import (
    USUAL_HUMIDITY,
    VESSEL,
    Additive,
    AdditiveKind,
    BlendPart,
    Claim,
    Discolours,
    Family,
    Fat,
    Fragrance,
    Habit,
    Liquid,
    Made,
    MadePart,
    Moment,
    NewFragrance,
    Possible,
    Ricing,
    Shelf,
    SolidAt,
    Vessel,
)
from .techniques import ANY, Band, LookAct, Role, Technique, TechniqueId, TemplateStep, Wants, band_words
from .techniques import Family as TechniqueFamily
from .techniques import Moment as DesignMoment
from .trace import STAGES, Stage
from .words import Word
