"""The plan: a design's steps, those of its technique or the maker's own, each ready to be put on the clock."""

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace

from ..recipe import (
    INTO_MOULD,
    ON_MOULD,
    PLAIN,
    BlendStep,
    ByMoulds,
    Cavities,
    ColourStep,
    CombineStep,
    Design,
    LookStep,
    Portion,
    PourStep,
    Recipe,
    ScentStep,
    SplitStep,
    TopStep,
    WaitStep,
    free,
)
from ..sheet import called
from ..shelf import Shelf, Technique, TemplateStep, Wants
from ..values import listed
from .task import PREPARES, Task, label_of, named_apart, poured_into, scaled

COLOURED = Wants(band=(0.0, 0.0, 3.7, 4.7), weight=0.15, grain=0.5)  # stirring a colour in [C]
SCENT_MINUTES = 0.5  # to whisk a fragrance into one portion; twice that for a whole pot [C]
COLOUR_MINUTES = 0.5  # to work a colour into one portion [C]
AS_POURED = "as poured"  # what is made of a top that nobody says more of
NO_LEVEL = 1.0  # a gate or a `to` of a step that is not there, where its act usually has one
SCENT_SHARE = 0.6  # at most, of the minutes for colouring and scenting [C]
LEAST_LEFT = 0.02  # share of a portion below which nothing is left of it
MOST_IN_TURN = 12  # blocks that are poured as a step each [chosen]
FROST = "piping"  # the technique a batch of frosting is used by


class Roles:
    """Who plays which part of a technique, among portions of which something is left in a pot."""

    def __init__(self, design: Design, left: Mapping[int, float], in_mould: Sequence[int], pots: int = 1) -> None:
        """`pots` is the least number of portions: a batch of its own is frosting only where enough are left without."""
        portions = design.portions
        self.left = {i: x for i, x in left.items() if x > LEAST_LEFT}
        frost = {i for i in self.left if portions[i].batch and design.batching != "layers"}
        frost = frost if len(self.left) - len(frost) >= pots else set()
        self.pots = [i for i in self.left if i not in frost] or list(self.left)
        self.frost = sorted(frost) if len(frost) < len(self.left) else []
        self.base = max(self.pots, key=lambda i: portions[i].share, default=-1)
        self.in_mould = list(in_mould)

    def play(self, who: str) -> list[tuple[int, ...]]:
        """The lanes of each step that this role stands for."""
        accents = [i for i in self.pots if i != self.base]
        groups: dict[str, list[tuple[int, ...]]] = {
            "base": [(self.base,)] if self.pots else [],
            "accents": [tuple(accents)],
            "each": [(i,) for i in accents],
            "one": [(i,) for i in self.pots],
            "all": [tuple(self.pots)],
            "first": [tuple(self.pots[:1])],
            "others": [tuple(self.pots[1:])],
            "in": [tuple(self.in_mould)],
            "rest": [tuple(i for i, x in self.left.items() if x > LEAST_LEFT and i in self.pots)],
            "frost": [tuple(self.frost)],
        }
        return [lanes for lanes in groups[who] if lanes]


def looks_of(
    technique: Technique, design: Design, grams: float, left: Mapping[int, float], in_mould: Sequence[int] = ()
) -> tuple[Task, ...]:
    """A technique's steps, played by what is `left` in the pots (share of each lane) with `in_mould` poured already."""
    roles = Roles(design, left, in_mould, technique.pots)
    return tuple(_played(technique.steps, roles, design, grams, left))


def _played(
    steps: Sequence[TemplateStep], roles: Roles, design: Design, grams: float, left: Mapping[int, float]
) -> Iterator[Task]:
    used: dict[int, float] = {}
    for step in steps:
        pots = step.do not in ON_MOULD and step.who != "in"
        whole = roles.play(step.who)
        groups = [(part, len(part) / len(g)) for g in whole for part in (_alike(g, left) if pots else (g,))]
        for lanes, of in groups:
            there = sum(left.get(i, 0.0) for i in lanes) / len(lanes) if pots else 1.0
            minutes = scaled(step.minutes, grams) * of
            own = {"weight": step.weight * of / len(whole), "part": step.part * there, "minutes": minutes}
            # As the template has them, which were checked when it was read.
            wants = Wants.model_construct(**{k: getattr(step, k) for k in Wants.model_fields} | own)
            every = len(lanes) == len(roles.pots) or step.do in ON_MOULD
            label = label_of(step.do, [design.portions[i].name for i in lanes], every and len(groups) == 1)
            yield Task("", step.do, label, lanes, minutes, wants)
            if pots:
                for i in lanes:
                    used[i] = used.get(i, 0.0) + step.part * left.get(i, 0.0)
                    roles.left[i] = left.get(i, 0.0) - used[i]
                roles.in_mould = list(dict.fromkeys([*roles.in_mould, *lanes]))


def _alike(lanes: tuple[int, ...], left: Mapping[int, float]) -> Iterator[tuple[int, ...]]:
    """The lanes of a step by how much is left of each: what is poured of one is a share of that."""
    shares = [round(left.get(i, 0.0), 3) for i in lanes]
    for share in dict.fromkeys(shares):
        yield tuple(i for i, x in zip(lanes, shares, strict=True) if x == share)


def own_steps(design: Design, shelf: Shelf, grams: float, scented: bool) -> tuple[Task, ...]:
    """The maker's own steps; what one leaves open is as the act usually has it."""
    number = {p.name: i for i, p in enumerate(design.portions)}
    in_mould: list[int] = []
    pours = [s for s in design.steps if isinstance(s, LookStep) and s.do in INTO_MOULD and s.part is None]
    times = {n: sum(n in s.who for s in pours if s.do != "top") for n in number}
    said = [s for s in design.steps if isinstance(s, LookStep) and s.do in INTO_MOULD and s.part is not None]
    rest = {n: max(1 - sum(s.part or 0.0 for s in said if n in s.who), 0.0) for n in number}
    out = []
    whole = {design.batch_of(p) for p in design.portions} if _divided(design) else set()
    for step in design.steps:
        who = () if isinstance(step, CombineStep | SplitStep) else step.who
        lanes = tuple(number[n] for n in who if n in number)
        own = step.minutes
        whole_yet = len(lanes) < 2 or any(design.batch_of(design.portions[i]) in whole for i in lanes)
        apart = () if whole_yet else tuple(design.portions[i].name for i in lanes)
        match step:
            case CombineStep():
                out.append(_combine(step.batch, design, own, step.to))
            case SplitStep():
                mine = tuple(i for i, p in enumerate(design.portions) if step.batch in (None, design.batch_of(p)))
                whole -= {design.batch_of(design.portions[i]) for i in mine}
                label = f"split {step.batch or ''}".strip()
                out.append(Task("", "split", label, mine, design.split_minutes if own is None else own))
            case BlendStep():
                label = f"thicken {listed(who)}"
                out.append(
                    Task("", "blend", label, lanes, 0.25 if own is None else own, by="stick", to=step.to, apart=apart)
                )
            case ColourStep():
                wants = COLOURED.model_copy(update={"weight": COLOURED.weight * len(lanes) / len(number)})
                minutes = COLOUR_MINUTES * len(lanes) if own is None else own
                out.append(Task("", "colour", f"colour {listed(who)}", lanes, minutes, wants, by=step.by, apart=apart))
            case ScentStep() if scented:
                minutes = SCENT_MINUTES * len(lanes) if own is None else own
                out.append(Task("", "scent", f"scent {listed(who)}", lanes, minutes, by=step.by, apart=apart))
            case WaitStep():
                label = step.note or (f"wait for {listed(who)}" if who else "wait")
                out.append(Task("", "wait", label, lanes, own or 0.0, to=step.until))
            case _ if isinstance(step, LookStep):
                times_poured = max((times[n] for n in who if n in times), default=1)
                there = min((rest[n] for n in who if n in rest), default=1.0) / max(times_poured, 1)
                task = _own_look(step, lanes or tuple(in_mould), who, len(number), there, shelf, grams)
                out.append(task)
                if step.do in INTO_MOULD:
                    in_mould = list(dict.fromkeys([*in_mould, *task.lanes]))
    return tuple(out)


def _own_look(
    step: LookStep, lanes: tuple[int, ...], who: Sequence[str], portions: int, there: float, shelf: Shelf, grams: float
) -> Task:
    """A step of the look as the maker has it; `there` is the share of what it pours that is left for it."""
    usual = shelf.acts[step.do]
    told = {k: v for k in Wants.model_fields if k != "minutes" and (v := getattr(step, k)) is not None}
    if step.part is None and step.do in INTO_MOULD and step.do != "top":
        told["part"] = there  # nothing said: what is left of it, in equal parts
    told |= {k: None for k in ("gate", "to") if told.get(k) == NO_LEVEL}
    wants = usual.model_copy(update=told)
    if step.skip is not None:
        wants = wants.model_copy(update={"keep": (wants.keep or 0.5) if step.skip else None})
    place = step.into if isinstance(step, PourStep) else ""
    label = step.note or (poured_into(place) if place else label_of(step.do, who, len(who) == portions or not who))
    if isinstance(step, TopStep) and step.texture != AS_POURED and not step.note:
        label += f", {step.texture}"
    minutes = scaled(usual.minutes, grams) if step.minutes is None else step.minutes
    return Task("", step.do, label, lanes, minutes, wants.model_copy(update={"minutes": minutes}), place=place)


def _divided(design: Design) -> bool:
    """Whether the maker's own steps say when the pot is divided, and so until when it is one."""
    return any(isinstance(s, SplitStep) for s in design.steps)


def _combine(batch: str, design: Design, minutes: float | None = None, to: float = 1.0) -> Task:
    lanes = tuple(i for i, p in enumerate(design.portions) if design.batch_of(p) == batch)
    label = f"combine {batch}" if batch and batch != design.batches[0] else "blend to emulsion"
    return Task("", "combine", label, lanes, minutes or 0.0, batch=batch, by="stick", to=to if to > 1 else None)


def preparation(recipe: Recipe, batch: str) -> Iterator[Task]:
    """What a batch needs before anything of it is poured: combined, split, coloured, and scented last."""
    design = recipe.design
    mine = [i for i, p in enumerate(design.portions) if design.batch_of(p) == batch]
    portions = design.portions
    yield _combine(batch, design)
    at = design.scent_at if recipe.scents else "fats"
    if at == "emulsion":
        yield Task("", "scent", f"scent {batch}".strip(), tuple(mine), 2 * SCENT_MINUTES, by=design.scent_by)
    if len(mine) > 1:
        yield Task("", "split", f"split {batch}".strip(), tuple(mine), design.split_minutes)
    to_scent = [i for i in mine if at in ("portions", "pour") and portions[i].scented]
    to_colour = [i for i in mine if portions[i].coloured != "not"]
    whole = design.colour_minutes * len(mine) / len(portions) if len(design.batches) > 1 else design.colour_minutes
    scenting = min(SCENT_MINUTES * len(to_scent), (SCENT_SHARE if to_colour else 1.0) * whole)
    # Unscented portions are coloured first, and the scent goes in last, so that it waits as short as it can.
    for i in sorted(to_colour, key=lambda i: portions[i].scented):
        wants = COLOURED.model_copy(update={"weight": COLOURED.weight / len(portions)})
        minutes = (whole - scenting) / len(to_colour)
        yield Task("", "colour", f"colour {portions[i].name}", (i,), minutes, wants, by=portions[i].coloured)
    for i in to_scent:
        label = f"scent {portions[i].name}"
        yield Task("", "scent", label, (i,), scenting / len(to_scent), by=design.scent_by)


def in_order(recipe: Recipe, looks: Sequence[Task], ready: Iterable[Task]) -> tuple[Task, ...]:
    """Steps of the look with what is still to prepare: the first batch at once, a later one just before its portion."""
    design = recipe.design
    first = design.batches[0]
    of = {i: design.batch_of(p) for i, p in enumerate(design.portions)}
    waiting: dict[str, list[Task]] = {}
    for task in ready:
        waiting.setdefault(task.batch if task.do == "combine" else of[task.lanes[0]], []).append(task)
    out = waiting.pop(first, [])
    for task in looks:
        for batch in dict.fromkeys(of[i] for i in task.lanes if task.do not in ON_MOULD):
            out += waiting.pop(batch, [])
        out.append(task)
    return tuple(out)


def in_turn(tasks: Sequence[Task], stay: Collection[str] = ()) -> tuple[Task, ...]:
    """Steps with each portion's fragrance just before the portion is poured, but for those that `stay`, by key."""
    poured = {i for s in tasks if s.looks and s.do not in ON_MOULD for i in s.lanes}
    held = [s.do == "scent" and bool(poured & set(s.lanes)) and s.key not in stay for s in tasks]
    tasks = [piece for s, h in zip(tasks, held, strict=True) for piece in (s.pieces if h else (s,))]
    waiting = [s for s in tasks if s.do == "scent" and poured & set(s.lanes) and s.key not in stay]
    out: list[Task] = []
    for task in (s for s in tasks if s not in waiting):
        if task.looks and task.do not in ON_MOULD:
            now = [s for s in waiting if set(s.lanes) & set(task.lanes)]
            out += now
            waiting = [s for s in waiting if s not in now]
        out.append(task)
    return (*out, *waiting)


def _taken_from(portions: Sequence[Portion]) -> Mapping[int, float]:
    return dict.fromkeys(range(len(portions)), 1.0)


def plan(recipe: Recipe, shelf: Shelf, grams: float) -> tuple[Task, ...]:
    """All steps of a recipe's design before anything has happened."""
    design = recipe.design
    everything = _taken_from(design.portions)
    if design.steps:
        looks = own_steps(design, shelf, grams, bool(recipe.scents) and design.scent_at != "fats")
        if any(s.do in ("combine", "split", "colour", "scent") for s in looks):
            begins = looks[0].do == "combine"
            return named_apart(looks if begins else (_combine(design.batches[0], design), *looks))
    else:
        technique = shelf.techniques[design.technique]
        looks = looks_of(technique, design, grams, everything)
        # What a finish leaves in its pot is poured plainly below it.
        gone = {*Roles(design, everything, ()).frost, *(i for s in looks if s.do in INTO_MOULD for i in s.lanes)}
        if below := {i: x for i, x in everything.items() if i not in gone}:
            first = looks_of(shelf.techniques[PLAIN], design, grams, below)
            looks = (*first, *looks_of(technique, design, grams, everything, tuple(below)))
        if len(design.portions) == 1:
            looks = tuple(s for task in looks for s in _mould_by_mould(recipe, task, grams))
        frost = Roles(design, everything, (), technique.pots).frost
        if frost and not any(set(s.lanes) & set(frost) for s in looks):
            poured = [i for i in everything if i not in frost]
            looks += looks_of(shelf.techniques[FROST], design, grams, dict.fromkeys(everything, 1.0), poured)
    ready = [s for batch in design.batches for s in preparation(recipe, batch)]
    tasks = in_order(recipe, looks, ready)
    return named_apart(in_turn(tasks) if design.scent_at == "pour" else tasks)


def _mould_by_mould(recipe: Recipe, task: Task, grams: float) -> Iterator[Task]:
    """One batter poured into several moulds, each in its turn and by its share: the last finds it thicker."""
    moulds = recipe.size.moulds if isinstance(recipe.size, ByMoulds) else ()
    # Single moulds are filled in one go, and so are blocks when there are very many of them.
    apart = sum(m.count for m in moulds if not isinstance(m, Cavities)) <= MOST_IN_TURN
    each = [
        (named.lower(), free(m, recipe.embedded) / n)
        for m, named in zip(moulds, map(called, moulds), strict=True)
        for n in [m.count if apart and not isinstance(m, Cavities) else 1]
        for _ in range(n)
    ]
    if task.do != "pour" or task.wants.part < 1 or len(each) < 2:
        yield task
        return
    whole = sum(room for _, room in each)
    for n, (named, room) in enumerate(each, start=1):
        share = room / whole
        minutes = task.minutes * scaled(1.0, grams * share) / scaled(1.0, grams)
        wants = task.wants.model_copy(update={"part": share, "weight": task.wants.weight * share})
        told = named if named[:1].isdigit() else f"{named} {n}"
        yield replace(task, label=poured_into(told), minutes=minutes, wants=wants, place=told)


def turned(
    recipe: Recipe,
    technique: Technique,
    grams: float,
    left: Mapping[int, float],
    in_mould: Sequence[int],
    before: Sequence[Task],
    taken: Iterable[str],
) -> tuple[Task, ...]:
    """The rest of a pour by another technique, in place of the steps `before`: its steps for what is `left`, what of
    them prepared still before. The look's weight stays what it was, or giving up would look better than doing.
    """
    looks = looks_of(technique, recipe.design, grams, left, in_mould)
    was, now = (sum(s.wants.weight for s in tasks if s.looks) for tasks in (before, looks))
    scale = was / now if now > 0 else 1.0
    looks = tuple(
        replace(s, wants=s.wants.model_copy(update={"weight": s.wants.weight * scale})) if s.looks else s for s in looks
    )
    ready = [s for s in before if s.do in PREPARES and s.do != "wait"]
    tasks = in_order(recipe, looks, ready)
    return named_apart(in_turn(tasks) if recipe.design.scent_at == "pour" else tasks, taken)
