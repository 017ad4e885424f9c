"""What is said at the door of the workshop's network."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from ...share import Role
from .common import Message


class Me(Message):
    """Who asks. `role` is None for a device of the network that is not let in."""

    network: bool
    role: Role | None
    name: str | None


class Pairing(Message):
    """The code on the workshop's screen, and what this device is called."""

    code: str = Field(max_length=20)
    name: str = Field(max_length=200)


class Invite(Message):
    """What the next device may do: pours and rest, or all."""

    role: Literal["bench", "maker"]


class NewToken(Message):
    """What a token is for."""

    name: str = Field(max_length=200)


class TokenView(Message):
    """A token, told once: sent as `Authorization: Bearer`, it reads what is under /api/data."""

    name: str
    token: str


class SharingView(Message):
    """How the network reaches this workshop; `secure` when with a certificate, whose SHA-256 `fingerprint` that is."""

    url: str
    fingerprint: str
    secure: bool


class InvitationView(Message):
    """A code that lets one device in for so many seconds more, and the address it is in."""

    code: str
    role: Role
    seconds: float
    link: str


class DeviceView(Message):
    """A device that is let in."""

    id: str
    name: str
    role: Role
    since: datetime
    seen: datetime


class Share(Message):
    """Whether the network is to reach this workshop."""

    on: bool


class DevicesView(Message):
    """Who is let in; `sharing` is None while the network cannot reach this workshop, `me` the device that asks."""

    sharing: SharingView | None
    invitation: InvitationView | None
    devices: list[DeviceView]
    me: str | None


class DevicePath(BaseModel):
    device_id: str = Field(max_length=60)
