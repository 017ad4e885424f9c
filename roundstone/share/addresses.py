"""Where this machine is found on its own network."""

import ipaddress
import socket

import ifaddr


def own_addresses() -> list[str]:
    """Private IPv4 addresses of this machine, which others on its network can reach and nobody else; no loopback."""
    found = {
        ipaddress.ip_address(ip.ip)
        for adapter in ifaddr.get_adapters()
        for ip in adapter.ips
        if isinstance(ip.ip, str)  # an IPv6 address is a tuple there
    }
    return [str(a) for a in sorted(found) if a.is_private and not (a.is_loopback or a.is_link_local)]


def own_name() -> str:
    """The name by which a network that names its machines knows this one."""
    return f"{socket.gethostname().split('.')[0].lower()}.local"
