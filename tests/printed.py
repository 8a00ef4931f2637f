"""Made print logs for tests: batches, prints and items with known figures."""

from hinoki.core.plan.print_settings import PrintSettings
from hinoki.core.printlog.records import Item, PreparedBatch, PreparedItem, Print, Progress
from hinoki.core.printlog.states import PieceState, PrintState, Reason, Result

AT = "2026-05-04T08:00:00.000+00:00"


def prepared(*keys: str, minutes: float = 100.0, grams: float = 50.0, shape: str = "s", **more: object) -> PreparedBatch:
    """A batch with one body for each key, which share its figures evenly."""
    names = keys or ("p1-",)
    counts: dict[str, int] = {}
    items = []
    for number, key in enumerate(names, start=1):
        counts[key] = counts.get(key, 0) + 1
        items.append(
            PreparedItem(
                key=key, number=None if key.startswith("loose") else number, name=f"{number} {key}",
                copy_number=counts[key], shape=shape, grams=grams / len(names), minutes=minutes / len(names),
                height_mm=40.0, foot_mm2=400.0,
            )
        )  # fmt: skip
    facts = {
        "title": "Shed, batch 1", "batch": 1, "batches": 1, "file": "send-0.3mf", "printer_id": "bench-220",
        "printer": "Bench 220", "material_id": "pla", "material": "PLA", "settings": PrintSettings(), "layer_mm": 0.2,
        "layers": 200, "minutes": minutes, "grams": grams, "cost": 2.0, "height_mm": 40.0, "expected_minutes": minutes,
        "expected_grams": grams, "items": tuple(items),
    }  # fmt: skip
    return PreparedBatch(**{**facts, **more})


def item(key: str, state: PieceState, number: int = 1, shape: str = "s", **more: object) -> Item:
    """A printed body."""
    reason: Reason | None = more.pop("reason", None)  # type: ignore[assignment]
    result: Result | None = more.pop("result", None)  # type: ignore[assignment]
    return Item(
        print_id="a", item=int(more.pop("item", 0)), project_id="p", key=key, number=number, name=f"{number} {key}",  # type: ignore[call-overload]
        copy_number=1, shape=shape, grams=10.0, minutes=20.0, state=state, result=result, reason=reason, note="", version=1,
        changed_at=AT,
    )  # fmt: skip


def printed(number: int, minutes: float | None, grams: float | None, state: PrintState = "done", **batch: object) -> Print:
    """A print that took so long and so much."""
    return Print(
        id=f"{number}", project_id="p", number=number, revision=1, state=state, machine_id=None, machine="by hand",
        spool_id=None, batch=prepared(**batch), sent_at=AT, begun_at=AT, ended_at=AT, minutes=minutes, grams=grams,
        progress=Progress(), gone_since=None, why="", note="", photo=None, items=[],
    )  # fmt: skip
