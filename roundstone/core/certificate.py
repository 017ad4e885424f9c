"""A fat of the maker's own, from the saponification value on its certificate."""

from .chemistry import acid_value, saponification_value
from .shelf import Fat
from .values import Caution, Fault, RuleBroken

REPEATS_WITHIN = 0.007  # of its value, two determinations of one lot: from memory of AOCS Cd 3-25
FAR_FROM_ACIDS = 0.03  # beyond this the acids or the figure are doubtful [chosen]
FAR_FROM_KIN = 0.12  # beyond this it is a slip of the finger, or another fat [chosen]


def own_fat(fat_id: str, name: str, kin: Fat, sv: float) -> Fat:
    """A fat with `sv` [mg KOH/g] from its certificate and the acids of its `kin`; RuleBroken when it cannot be it."""
    if not kin.sv_low * (1 - FAR_FROM_KIN) <= sv <= kin.sv_high * (1 + FAR_FROM_KIN):
        says = (
            f"{kin.name} lies between {kin.sv_low:g} and {kin.sv_high:g}; {sv:g} is too far off to be one. "
            "Check the figure (mg KOH per g), or choose the fat it is most like."
        )
        raise RuleBroken(Fault(pointer="/sv", says=says))
    return kin.model_copy(
        update={
            "id": fat_id,
            "name": name,
            "sv": sv,
            "sv_low": sv * (1 - REPEATS_WITHIN),
            "sv_high": sv * (1 + REPEATS_WITHIN),
            "source": f"own certificate; acids as {kin.name}",
        }
    )


def consistency(fat: Fat) -> tuple[Caution, ...]:
    """What is doubtful about a fat's figures: its saponification value against the one of its own acids."""
    if fat.kind == "wax":
        return ()
    from_acids = acid_value(fat.acids) if fat.kind == "acid" else saponification_value(fat.acids, fat.unsaponifiable)
    if abs(fat.sv / from_acids - 1) <= FAR_FROM_ACIDS:
        return ()
    says = (
        f"Its acids would make {from_acids:.0f}, the certificate says {fat.sv:g}: one of them is not this fat's. "
        "The lye follows the certificate."
    )
    return (Caution(pointer="/sv", says=says),)
