"""Loaded by every Python process that finds this folder first (`PYTHONPATH`): it reaches no other machine.

What tries to is refused and written down in the file that `PIVREL_TRIED` names. Of the modules that `PIVREL_WITHOUT`
names, parted by commas, none is installed.
"""

import os
import socket
import sys
from pathlib import Path

HERE = {"127.0.0.1", "::1", "localhost", "", None, socket.gethostname()}
ASKING = {"socket.getaddrinfo", "socket.gethostbyname", "socket.gethostbyaddr"}
SENDING = {"socket.connect", "socket.sendto", "socket.sendmsg"}


def refuse(event: str, args: tuple) -> None:
    """Refuses what would leave this machine."""
    if event in ASKING:
        place = args[0]
    elif event in SENDING and args[0].family != socket.AF_UNIX:
        place = args[-1][0] if args[-1] else None
    else:
        return
    place = place.decode() if isinstance(place, bytes) else place
    if place not in HERE:
        with Path(os.environ["PIVREL_TRIED"]).open("a") as tried:
            tried.write(f"{sys.argv}: {event} {place}\n")
        raise ConnectionRefusedError(f"refused by the test: {event} {place}")


sys.addaudithook(refuse)
for name in filter(None, os.environ.get("PIVREL_WITHOUT", "").split(",")):
    sys.modules[name] = None  # type: ignore[assignment]
