"""The adapter for a printer as entered."""

import httpx

from hinoki.core.printlog.printer_connection import Machine
from hinoki.printers.base import Adapter, Gone
from hinoki.printers.folder import FolderPrinter
from hinoki.printers.http import HttpPrinter


def adapter_for(machine: Machine) -> Adapter:
    """The way to speak to a printer. Raises MachineProblem for an address that cannot be one."""
    try:
        return HttpPrinter(machine.address) if machine.way == "http" else FolderPrinter(machine.address)
    except (httpx.InvalidURL, ValueError, OSError) as error:
        raise Gone(f"The address of {machine.name} cannot be used. Enter it again.") from error
