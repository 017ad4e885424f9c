"""Who else on the workshop's network is let in: certificates, pairing codes, devices that are known."""

from .addresses import own_addresses, own_name
from .certificate import Certificate, certified
from .door import Device, Door, Invitation, Network, Role, Sharing, door_beside, folder_beside

__all__ = [
    "Certificate",
    "Device",
    "Door",
    "Invitation",
    "Network",
    "Role",
    "Sharing",
    "certified",
    "door_beside",
    "folder_beside",
    "own_addresses",
    "own_name",
]
