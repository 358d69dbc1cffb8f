"""The CAD kernel's manners: it tells its progress on standard output unless it is asked not to."""

from __future__ import annotations

from OCP.Message import Message


def hush() -> None:
    """Takes away the kernel's printers; what matters is in what its calls return."""
    Message.DefaultMessenger_s().ChangePrinters().Clear()
