"""The simulated printers of the demo, each with a spool of its own."""

from hinoki.api.shared.state import State
from hinoki.core.printlog.printer_connection import Machine
from hinoki.core.printlog.spools import NewSpool
from hinoki.printers.simulator.launch import StandIn, running
from hinoki.store.tables import printers as machines
from hinoki.store.tables import spools

DEMO_PRINTERS = (
    (StandIn("Printer by the window", (220.0, 220.0, 250.0), seed=7), "bench-220"),
    (StandIn("Printer under the stairs", (220.0, 220.0, 250.0), seed=12), "bench-220"),
)
"""the simulated printers of the demo, and which printer of the workshop each is"""


def run_demo_printers(state: State, speed: float) -> None:
    """Start them, `speed` times as fast as real ones, until the application is closed."""
    _add(state, state.until_closed(running([one for one, _ in DEMO_PRINTERS], speed)))


def _add(state: State, addresses: list[str]) -> None:
    """The printers at their addresses of this start, each with a spool."""
    with state.database.reading() as connection:
        there = {m.id: m for m in machines.machines(connection)}
    for number, ((one, printer_id), address) in enumerate(zip(DEMO_PRINTERS, addresses, strict=True), start=1):
        machine_id = f"simulated-{number}"
        spool = there[machine_id].spool_id if machine_id in there else None
        if machine_id not in there:
            new = NewSpool(material_id="pla", name=f"Sand, reel {number}", full_g=one.filament_g)
            spool = state.database.write(lambda c, new=new: spools.add_spool(c, new))  # type: ignore[misc]
        machine = Machine(id=machine_id, name=one.name, address=address, printer_id=printer_id, spool_id=spool)
        state.database.write(lambda c, machine=machine: machines.put_machine(c, machine))  # type: ignore[misc]
