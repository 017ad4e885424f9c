"""The door to the workshop's network: a code lets a device in once, its cookie ever after, until it is sent away.

Who was let in is kept beside the data file and not in it: a copy that is put back lets nobody in again, and a file that
is carried to another machine carries no keys.
"""

import hmac
import json
import secrets
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from hashlib import sha256
from pathlib import Path
from string import digits
from threading import Lock
from typing import Any, Literal, get_args
from uuid import uuid4

from itsdangerous import BadSignature, URLSafeTimedSerializer

from ..core.values import AppError, Fault, NotFoundError, RuleError
from .secret import keep

Role = Literal["bench", "maker", "reader"]
CODE_LASTS = timedelta(minutes=5)  # [C]
TRIES = 5  # at one code, whoever tries [C]
PER_MINUTE = 5  # tries of one address, wrong or right [C]
ALL_PER_MINUTE = 30  # of all [C]
COOKIE_LASTS = timedelta(days=400)  # the longest a browser keeps one (draft-ietf-httpbis-rfc6265bis, 5.5)
SEEN_EVERY = timedelta(minutes=10)  # the file is written no more often for having seen a device [C]
MOST_DEVICES = 30  # [C]


class NotLetInError(AppError):
    """This device is not known here, or no more."""

    status = 401
    title = "Not let in"


class NotYoursError(AppError):
    """A device of the bench asked for what only makers may."""

    status = 403
    title = "Not for this device"


class TooManyError(AppError):
    """Codes are tried too quickly."""

    status = 429
    title = "Too many tries"


@dataclass(frozen=True)
class Device:
    """Who was let in; of its token only the digest is kept."""

    id: str
    name: str
    role: Role
    since: datetime
    seen: datetime
    digest: str


@dataclass(frozen=True)
class Invitation:
    """A code that lets one device in, until then."""

    code: str
    role: Role
    until: datetime
    tries: int = TRIES


@dataclass(frozen=True)
class Sharing:
    """The workshop as its network sees it: the names it answers to, and what is compared before it is trusted."""

    url: str
    names: tuple[str, ...]
    fingerprint: str
    root: Path | None


class Network:
    """The network's way in, opened and closed while the app runs. `how` opens it, and gives what closes it again."""

    def __init__(self, sharing: Sharing | None = None) -> None:
        self.sharing = sharing
        self.how: Callable[[], tuple[Sharing, Callable[[], None]]] | None = None
        self._close: Callable[[], None] | None = None

    def open(self) -> None:
        """Let the network reach the workshop; NotFoundError where this server cannot, OSError
        where the port is taken."""
        if self.how is None:
            raise NotFoundError("This server cannot be reached over a network.")
        if self._close is None:
            self.sharing, self._close = self.how()

    def close(self) -> None:
        """The network reaches it no more; who was let in is let in again when it is opened next."""
        if self._close is not None:
            self._close()
            self.sharing, self._close = None, None


class Door:
    """Keeps the door of one workshop. `folder` holds its secrets; `now` is its only clock."""

    def __init__(self, folder: Path, now: Callable[[], datetime]) -> None:
        self._folder, self._now, self._lock = folder, now, Lock()
        self._file, self._secret = folder / "devices.json", folder / "secret"
        self._invitation: Invitation | None = None
        self._tries: deque[tuple[datetime, str]] = deque(maxlen=1000)
        self._known = self._read()

    def invite(self, role: Role) -> Invitation:
        """A new code; one that was given before lets nobody in any more."""
        with self._lock:
            self._invitation = Invitation(f"{secrets.randbelow(10**6):06}", role, self._now() + CODE_LASTS)
            return self._invitation

    def invitation(self) -> Invitation | None:
        """The code that lets someone in now."""
        with self._lock:
            return self._standing()

    def _standing(self) -> Invitation | None:
        given = self._invitation
        if given is not None and (given.until <= self._now() or given.tries <= 0):
            given = self._invitation = None
        return given

    def pair(self, code: str, name: str, address: str) -> tuple[Device, str]:
        """The device that is let in, and its cookie; TooManyError, or RuleError when the code is not the one."""
        name = " ".join(name.split())[:60]
        if not name:
            raise RuleError(
                Fault(pointer="/name", message="Say what this device is called, such as phone at the sink.")
            )
        with self._lock:
            self._count(address)
            given = self._standing()
            if given is None or not hmac.compare_digest(given.code, "".join(c for c in code if c in digits)):
                if given is not None:
                    self._invitation = replace(given, tries=given.tries - 1)
                message = "This is not the code on the workshop's screen, or it has run out: ask for a new one there."
                raise RuleError(Fault(pointer="/code", message=message))
            if len(self._known) >= MOST_DEVICES:
                message = f"{MOST_DEVICES} devices are let in: send one away first."
                raise RuleError(Fault(pointer="/name", message=message))
            self._invitation = None
            token, now = secrets.token_urlsafe(32), self._now()
            device = Device(str(uuid4()), name, given.role, now, now, _digest(token))
            self._known[device.id] = device
            self._write()
            return device, self._signer().dumps([device.id, token])

    def issue(self, name: str) -> tuple[Device, str]:
        """A token with which a program of the maker's own reads the tables, and nothing else; it is told once."""
        name = " ".join(name.split())[:60]
        if not name:
            raise RuleError(Fault(pointer="/name", message="Say what it is for, such as accounts."))
        with self._lock:
            if len(self._known) >= MOST_DEVICES:
                raise RuleError(Fault(pointer="/name", message=f"{MOST_DEVICES} are let in: send one away first."))
            token, now = secrets.token_urlsafe(32), self._now()
            device = Device(str(uuid4()), name, "reader", now, now, _digest(token))
            self._known[device.id] = device
            self._write()
            return device, f"{device.id}.{token}"

    def reads(self, bearer: str | None) -> Device | None:
        """Whose token this is, while it is let in."""
        device_id, _, token = (bearer or "").partition(".")
        with self._lock:
            device = self._known.get(device_id)
            if device is None or device.role != "reader" or not hmac.compare_digest(device.digest, _digest(token)):
                return None
            return self._seen(device)

    def _seen(self, device: Device) -> Device:
        """It was seen now, written down at most every SEEN_EVERY."""
        now = self._now()
        if now - device.seen >= SEEN_EVERY:
            device = self._known[device.id] = replace(device, seen=now)
            self._write()
        return device

    def _count(self, address: str) -> None:
        since = self._now() - timedelta(minutes=1)
        while self._tries and self._tries[0][0] < since:
            self._tries.popleft()
        mine = sum(a == address for _, a in self._tries)
        if mine >= PER_MINUTE or len(self._tries) >= ALL_PER_MINUTE:
            raise TooManyError("Too many codes were tried: wait a minute.")
        self._tries.append((self._now(), address))

    def known(self, cookie: str | None) -> Device | None:
        """Whose cookie this is, while it is let in."""
        if not cookie:
            return None
        try:
            told = self._signer().loads(cookie, max_age=int(COOKIE_LASTS.total_seconds()))
        except (BadSignature, ValueError):
            return None
        if not (isinstance(told, list) and len(told) == 2 and all(isinstance(x, str) for x in told)):
            return None
        with self._lock:
            device = self._known.get(told[0])
            if device is None or device.role == "reader" or not hmac.compare_digest(device.digest, _digest(told[1])):
                return None
            return self._seen(device)

    def devices(self) -> list[Device]:
        """All that are let in, the last seen first."""
        with self._lock:
            return sorted(self._known.values(), key=lambda d: d.seen, reverse=True)

    def send_away(self, device_id: str) -> None:
        """Its cookie opens nothing from now on. RuleError when it is not known."""
        with self._lock:
            if self._known.pop(device_id, None) is None:
                raise RuleError(Fault(pointer="/id", message="This device is not let in any more."))
            self._write()

    def _signer(self) -> URLSafeTimedSerializer:
        if not self._secret.exists():
            keep(self._secret, secrets.token_bytes(32))
        return URLSafeTimedSerializer(self._secret.read_bytes(), salt="device")

    def _read(self) -> dict[str, Device]:
        """Nobody is let in by a list that cannot be read."""
        try:
            rows: list[dict[str, Any]] = json.loads(self._file.read_text(encoding="utf-8"))
            found = [Device(**row | {k: datetime.fromisoformat(row[k]) for k in ("since", "seen")}) for row in rows]
        except (OSError, ValueError, TypeError, KeyError):
            return {}
        return {d.id: d for d in found if d.role in get_args(Role)}

    def _write(self) -> None:
        rows = [vars(d) | {"since": d.since.isoformat(), "seen": d.seen.isoformat()} for d in self._known.values()]
        keep(self._file, json.dumps(rows, indent=1).encode())


def door_beside(data: Path, now: Callable[[], datetime]) -> Door:
    """The door of the workshop in this data file."""
    return Door(folder_beside(data), now)


def folder_beside(data: Path) -> Path:
    """Where the secrets of a data file's door are kept."""
    return data.with_name(f"{data.name}.share")


def _digest(token: str) -> str:
    return sha256(token.encode()).hexdigest()
