"""Where an instrument may be reached: only loopback and private addresses, and only those that a setting names."""

import ipaddress
from dataclasses import dataclass

_LOCAL = tuple(
    ipaddress.ip_network(n) for n in ("127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "::1", "fc00::/7")
)
"""Loopback and private use, RFC 1918 and RFC 4193 (memory); link-local is left out."""
Network = ipaddress.IPv4Network | ipaddress.IPv6Network


@dataclass(frozen=True)
class Address:
    """A host by its number, and a port; names are not looked up, so that none can point elsewhere."""

    host: str
    port: int

    def __str__(self) -> str:
        return f"[{self.host}]:{self.port}" if ":" in self.host else f"{self.host}:{self.port}"


@dataclass(frozen=True)
class Reach:
    """One entry of the setting: a network and the ports in it."""

    network: Network
    low_port: int
    high_port: int

    def holds(self, address: Address) -> bool:
        return ipaddress.ip_address(address.host) in self.network and self.low_port <= address.port <= self.high_port


def parse_address(text: str) -> Address:
    """`127.0.0.1:5025` or `[::1]:5025`.

    Raises
    ------
    ValueError
        Where it is not the number of a host with a port, or is neither loopback nor private.
    """
    host, _, port = text.strip().rpartition(":")
    host = host.strip("[]")
    wanted = "write an instrument's address as a number with a port, such as 127.0.0.1:5025 or 192.168.1.20:5025"
    try:
        number = ipaddress.ip_address("127.0.0.1" if host.lower() == "localhost" else host)
        at = int(port)
    except ValueError:
        raise ValueError(f'"{text.strip()}": {wanted}') from None
    if not 0 < at < 65536:
        raise ValueError(f'"{text.strip()}": a port is 1 to 65535')
    _local(number, text)
    return Address(str(number), at)


def _local(number: ipaddress.IPv4Address | ipaddress.IPv6Address, text: str) -> None:
    if not any(number in network for network in _LOCAL):
        raise ValueError(f'"{text.strip()}" is neither a loopback nor a private address; Levelmoor reaches no others')


def parse_reach(text: str) -> tuple[Reach, ...]:
    """The setting: `127.0.0.1:5025-5029, 192.168.1.0/24:5025`; without a port any.

    Raises
    ------
    ValueError
        Naming the entry that is no loopback or private network.
    """
    return tuple(_reach(part) for part in (p.strip() for p in text.split(",")) if part)


def _reach(part: str) -> Reach:
    place, ports = part, ""
    if part.startswith("["):
        place, _, ports = part[1:].partition("]")
        ports = ports.removeprefix(":")
    elif part.count(":") == 1:
        place, _, ports = part.partition(":")
    try:
        network = ipaddress.ip_network(place.replace("localhost", "127.0.0.1"))
        low, _, high = ports.partition("-")
        limits = (int(low), int(high or low)) if ports else (1, 65535)
    except ValueError:
        raise ValueError(
            f'"{part}" is not a network with ports; write 127.0.0.1:5025-5029 or 192.168.1.0/24:5025'
        ) from None
    for number in (network.network_address, network.broadcast_address):
        _local(number, part)
    return Reach(network, *limits)


def check_reach(address: Address, reach: tuple[Reach, ...]) -> None:
    """Raises ValueError where the setting does not name the address."""
    if any(r.holds(address) for r in reach):
        return
    raise ValueError(
        f"{address} is not an address that this installation may reach; whoever runs it lists them in "
        f"LEVELMOOR_INSTRUMENTS"
    )
