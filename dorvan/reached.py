"""Where the server listens, and the addresses at which the shop's tablets reach it.

``DORVAN_LISTEN`` is an address of this machine; ``shop`` is all of them. Without it only this machine is let in.
"""

import os
import socket

HERE, EVERYWHERE, SHOP = "127.0.0.1", "0.0.0.0", "shop"
"""This machine alone; every network it is on; what people write for that."""
ELSEWHERE = ("192.0.2.1", 9)
"""An address for documentation: asking the way there sends nothing, and tells which of our own would be used."""


def listens() -> str:
    """The address that the server binds."""
    said = os.environ.get("DORVAN_LISTEN", "").strip()
    return EVERYWHERE if said == SHOP else said or HERE


def addresses() -> list[str]:
    """What tablets may call this machine by, the likeliest first; none where only itself is let in."""
    bound = listens()
    if bound.startswith("127.") or bound == "localhost":
        return []
    if bound != EVERYWHERE:
        return [bound]
    found = [_on_the_way_out(), *_of_the_name()]
    return [one for one in dict.fromkeys(found) if one and not one.startswith("127.")]


def hosts() -> list[str]:
    """Names that requests may call it by where ``DORVAN_HOSTS`` says nothing: this machine, and what tablets use."""
    name = socket.gethostname()
    return [HERE, "localhost", *addresses(), *([name, f"{name}.local"] if addresses() else [])]


def _on_the_way_out() -> str:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asked:
        try:
            asked.connect(ELSEWHERE)
            return asked.getsockname()[0]
        except OSError:
            return ""


def _of_the_name() -> list[str]:
    try:
        return socket.gethostbyname_ex(socket.gethostname())[2]
    except OSError:
        return []


def told(port: int) -> list[str]:
    """Lines for whoever starts the server."""
    found = addresses()
    if not found:
        return ["Only this machine reaches it. LISTEN=shop make run lets the tablets of the shop's network in."]
    return [f"Tablets reach it at {', '.join(f'http://{one}:{port}/' for one in found)}",
            "What is sent is not enciphered, and anybody on that network may try to sign in: let it be the shop's own, "
            "or put TLS in front (docs/running-a-shop.md)."]
