"""The adapter for a printer as entered."""

from hinoki.core.printlog.machine import Machine
from hinoki.machines.base import Adapter
from hinoki.machines.folder import FolderPrinter
from hinoki.machines.http import HttpPrinter


def adapter_for(machine: Machine) -> Adapter:
    """The way to speak to a printer."""
    return HttpPrinter(machine.address) if machine.way == "http" else FolderPrinter(machine.address)
