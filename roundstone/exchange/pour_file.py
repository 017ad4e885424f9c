"""Past pours as CSV (RFC 4180), one row an event, gaps allowed. See docs/formats.md."""

import csv
import io
import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Protocol, get_args
from uuid import UUID, uuid5

from pydantic import ValidationError

from ..core.pour import EVENT, Event, Heeded, Rest, replay
from ..core.recipe import Recipe
from ..core.values import Fault, RuleError
from .plain import number, plain, rows, unplain, written

COLUMNS = ("pour", "recipe", "started", "minute", "event", "portion", "value", "id")
NOTEBOOK = UUID(
    "6b1f0a52-93a5-4c0e-8f0c-7d2f3f0a4c21"
)  # under which pours and events without ids of their own get theirs
STAGES = ("emulsion", "light", "medium", "thick", "set")
FLAGS = ("ricing", "seizing", "separation", "false-trace", "overheating", "soup")
EARLIEST = 1970
NOTHING_MORE = ("split", "unscented", "in-turn", "pouring", "ended", "smooth", "spare", "unlearned", "pause", "resume")
LOOKED = "seen"  # beside a stage: it was there at that minute; with nothing beside it, it came to it then
# Words of the file that need no value, and the event they are.
PLAIN: dict[str, dict[str, str]] = {
    **{f: {"kind": "flag", "flag": f} for f in FLAGS},
    **{k: {"kind": k} for k in NOTHING_MORE},
}
# Words with a value, and the event's field it is.
VALUED: dict[str, tuple[dict[str, str], str]] = {
    "combined": ({"kind": "combined"}, "batch"),
    "step": ({"kind": "step"}, "step"),
    "changed": ({"kind": "step", "changed": "true"}, "step"),
    "skip": ({"kind": "skip"}, "step"),
    "layer": ({"kind": "layer"}, "how"),
    "rename": ({"kind": "rename"}, "to"),
    "verdict": ({"kind": "verdict"}, "came"),
    "temperature": ({"kind": "temperature"}, "celsius"),
    "technique": ({"kind": "switch"}, "technique"),
}
AFTERWARDS = tuple(get_args(k.model_fields["kind"].annotation)[0] for k in (*get_args(Rest), Heeded))
OF_PORTIONS = ("swatch", "answer")  # of those
ABOUT = " | "  # between what a note is about and what it says
WHOLE = (
    "split",
    "in-turn",
    "pouring",
    "ended",
    "smooth",
    "temperature",
    "technique",
    "combined",
    "step",
    "changed",
    "skip",
    "unlearned",
    "next",
    "pause",
    "resume",
    "verdict",
)  # never of one portion


class Poured(Protocol):
    """What is written of a pour."""

    @property
    def id(self) -> str: ...
    @property
    def recipe(self) -> Recipe: ...
    @property
    def started(self) -> datetime: ...
    @property
    def events(self) -> tuple[Event, ...]: ...


@dataclass(frozen=True)
class Written:
    """A pour as the file has it: the first line it stands on, and each event's.

    Its id is the file's own, or made of what the file says: read again, it is the same pour.
    """

    id: str
    line: int
    recipe: str
    started: datetime
    events: tuple[Event, ...]
    lines: tuple[int, ...]


def write(pours: Iterable[Poured]) -> str:
    """All pours with their standing events; colours are kept as `colour` rows of shade and days."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for pour in pours:
        for event in replay(pour.events).standing:
            word, value = _word(event)
            portion = getattr(event, "portion", None) or ""
            started = f"{pour.started:%Y-%m-%dT%H:%M:%SZ}"
            writer.writerow(
                [
                    pour.id,
                    plain(pour.recipe.name),
                    started,
                    written(event.minute, 12),
                    word,
                    plain(portion),
                    value,
                    event.id,
                ]
            )
    return out.getvalue()


def _word(event: Event) -> tuple[str, str]:  # noqa: PLR0911, PLR0912 - one return a kind
    match event.kind:
        case "seen":
            return event.stage, "" if event.turned else LOOKED
        case "flag":
            return event.flag, ""
        case "work":
            purpose = "" if event.purpose == "mix" else f" {event.purpose}"
            return event.tool, f"{written(event.seconds, 12)}{purpose}"
        case "scent":
            share = f"{written(100 * event.share, 12)} %" if event.share is not None else ""
            return "scent", f"{written(event.grams, 12)} g" if event.grams is not None else share
        case "combined":
            return "combined", plain(event.batch)
        case "step":
            return "changed" if event.changed else "step", plain(event.step)
        case "skip":
            return "skip", plain(event.step)
        case "layer":
            return "layer", event.how
        case "rename":
            return "rename", plain(event.to)
        case "remark":
            return "remark", f"{event.what} {plain(event.says)}".strip()
        case "mended":
            return "mended", f"{event.flag} {event.how}"
        case "verdict":
            return "verdict", event.came
        case "fold":
            return "fold", json.dumps(event.into, ensure_ascii=False)
        case "next":
            about = "" if event.about == "recipe" else f"{event.about}{ABOUT}"
            return "next", about + plain(event.says)
        case "temperature":
            return "temperature", written(event.celsius, 12)
        case "switch":
            return "technique", event.technique
        case "colour":
            return "colour", f"{event.shade} {written(event.days, 12)}"
    if event.kind in AFTERWARDS:
        return event.kind, json.dumps(_told(event), ensure_ascii=False)
    return event.kind, ""


def _told(event: Event) -> dict[str, Any]:
    """What an event of the days after says, beside when, where and which."""
    return event.model_dump(mode="json", exclude={"id", "minute", "sure", "kind", "portion"}, exclude_none=True)


def read(text: str) -> list[Written]:
    """Pours from a file's text; RuleError names every fault by line and column, and nothing is half-read.

    Rows of one `pour` belong together; its recipe and start are taken from the first row that has them.
    """
    columns, found_rows, commas = rows(text)
    needed = [c for c in ("pour", "minute", "event") if c not in columns]
    unknown = [c for c in columns if c not in COLUMNS]
    if needed or unknown:
        message = f"Columns missing: {', '.join(needed)}." if needed else f"Columns not known: {', '.join(unknown)}."
        raise RuleError(Fault(pointer="/1", message=message))
    faults: list[Fault] = []
    pours: dict[str, dict[str, Any]] = {}
    for line, cells in found_rows:
        row = {c: unplain((cells.get(c) or "").strip()) for c in COLUMNS}
        pour = pours.setdefault(row["pour"], {"line": line, "recipe": "", "started": "", "events": [], "lines": []})
        pour["recipe"] = pour["recipe"] or row["recipe"]
        pour["started"] = pour["started"] or row["started"]
        try:
            nth = f"{row['pour']}|{len(pour['events'])}|{row['minute']}|{row['event']}"
            pour["events"].append(_event(row, _id(row["id"], nth), commas))
            pour["lines"].append(line)
        except RuleError as broken:
            faults += broken.under(f"/{line}").faults
    out = []
    for label, pour in pours.items():
        try:
            started = datetime.fromisoformat(pour["started"])
        except ValueError:
            faults.append(Fault(pointer=f"/{pour['line']}/started", message="This is not an ISO date."))
            continue
        started = started if started.tzinfo else started.replace(tzinfo=UTC)
        if started.year < EARLIEST:
            faults.append(
                Fault(pointer=f"/{pour['line']}/started", message=f"Before {EARLIEST} nothing was poured here.")
            )
            continue
        made_of = f"{label}|{pour['recipe']}|{pour['started']}"
        events, lines = tuple(pour["events"]), tuple(pour["lines"])
        out.append(Written(_id(label, made_of), pour["line"], pour["recipe"], started, events, lines))
    if not pours and not faults:
        faults.append(Fault(pointer="/1", message="There is no pour in this file."))
    if faults:
        raise RuleError(*faults)
    return out


def _id(typed: str, made_of: str) -> str:
    try:
        return str(UUID(typed))
    except ValueError:
        return str(uuid5(NOTEBOOK, made_of))


def _dose(value: str, commas: bool) -> dict[str, float]:
    """How much of a fragrance went in: "12 g", "150 %" of the full dose, or nothing said."""
    figure, _, unit = value.partition(" ")
    if not value:
        return {}
    if unit not in ("g", "%"):
        raise RuleError(Fault(pointer="/value", message="How much went in is in g, or in % of the full dose."))
    amount = number(figure, "/value", commas, "A dose such as 12 g")
    return {"grams": amount} if unit == "g" else {"share": amount / 100}


def _fields(value: str) -> dict[str, Any]:
    """What an event of the days after says, as a JSON object."""
    try:
        fields = json.loads(value or "{}")
    except ValueError:
        fields = None
    if not isinstance(fields, dict) or set(fields) & {"id", "minute", "kind", "portion"}:
        raise RuleError(Fault(pointer="/value", message='A JSON object is expected, such as {"how": "clean"}.'))
    return fields


def _names(value: str) -> list[Any]:
    """Names as a JSON list, since a name may have anything in it; one alone may stand as it is."""
    try:
        names = json.loads(value)
    except ValueError:
        return [value]
    return names if isinstance(names, list) else [value]


def _event(row: dict[str, str], event_id: str, commas: bool) -> Event:  # noqa: PLR0912 - one branch a kind
    word, value = row["event"], row["value"]
    minute = number(row["minute"], "/minute", commas, "A minute")
    event: dict[str, Any] = {"id": event_id, "minute": minute, "sure": True}
    if word in STAGES:
        if value not in ("", LOOKED):
            raise RuleError(Fault(pointer="/value", message=f"Beside a stage stands nothing, or {LOOKED}."))
        event |= {"kind": "seen", "stage": word, "turned": value == ""}
    elif word in PLAIN:
        event |= PLAIN[word]
    elif word in VALUED:
        fields, field = VALUED[word]
        event |= fields | {field: number(value, "/value", commas) if field == "celsius" else value}
    elif word in ("stick", "hand"):
        seconds, _, purpose = value.partition(" ")
        told = number(seconds, "/value", commas, "Seconds")
        event |= {"kind": "work", "tool": word, "seconds": told, "purpose": purpose or "mix"}
    elif word == "scent":
        event |= {"kind": "scent", **_dose(value, commas)}
    elif word == "fold":
        event |= {"kind": "fold", "into": _names(value)}
    elif word == "remark":
        what, _, message = value.partition(" ")
        event |= {"kind": "remark", "what": what, "says": unplain(message)}
    elif word == "mended":
        flag, _, how = value.partition(" ")
        event |= {"kind": "mended", "flag": flag, "how": how}
    elif word == "next":
        about, mark, message = value.partition(ABOUT)
        event |= {"kind": "next", "says": unplain(message), "about": about} if mark else {"kind": "next", "says": value}
    elif word in AFTERWARDS:
        event |= {"kind": word, **_fields(value)}
    elif word == "colour":
        shade, _, days = value.partition(" ")
        event |= {"kind": "colour", "shade": shade, "days": number(days or "0", "/value", commas, "Days")}
    else:
        known = ", ".join(
            (
                *STAGES,
                *PLAIN,
                *VALUED,
                "stick",
                "hand",
                "scent",
                "fold",
                "colour",
                "remark",
                "mended",
                "next",
                *AFTERWARDS,
            )
        )
        raise RuleError(Fault(pointer="/event", message=f"One of {known} is expected."))
    if word not in WHOLE and (word not in AFTERWARDS or word in OF_PORTIONS):
        event["portion"] = row["portion"] or None
    try:
        return EVENT.validate_python(event)
    except ValidationError as error:
        fields = {"seconds": "value", "celsius": "value", "technique": "value", "shade": "value", "days": "value"}
        fields |= dict.fromkeys(
            ("batch", "step", "into", "purpose", "how", "to", "came", "what", "flag", "says", "about"), "value"
        )
        if word in AFTERWARDS:
            fields = dict.fromkeys((str(e["loc"][-1]) for e in error.errors()), "value") | {"minute": "minute"}
        raise RuleError(
            *(
                Fault(pointer=f"/{fields.get(str(e['loc'][-1]), str(e['loc'][-1]))}", message=str(e["msg"]))
                for e in error.errors()
            )
        ) from error
