"""Findings with their words, and those a maker accepted."""

import hashlib
import json
from collections.abc import Iterable, Mapping

from hinoki.core.findings import Accepted, Finding, Fix, says_the_same
from hinoki.core.plan.plan import Plan
from hinoki.present.schemas.findings import FindingView, FixView
from hinoki.present.words import fix_label, sentence

RENAMED = {"step-leaves-nothing": "step-refused"}
"""codes that were others up to 0.8"""


def finding_views(findings: Iterable[Finding], plan: Plan) -> list[FindingView]:
    """Findings as screens see them, with why the plan lets them stay."""
    return [finding_view(f, plan.accepted_like(f)) for f in findings]


def finding_view(finding: Finding, accepted: Mapping[str, Accepted]) -> FindingView:
    """A finding as screens see it, `accepted` being those that may stay, by id."""
    message = sentence(finding)
    under = _accepted_under(finding, message, accepted)
    return FindingView(
        id=finding.id,
        severity=finding.severity,
        code=finding.code,
        message=message,
        params=finding.params,
        station=finding.station,
        piece=finding.piece,
        face=finding.face,
        joint=finding.joint,
        parting=finding.parting,
        step=finding.step,
        at_mm=finding.at_mm,
        fixes=[fix_view(fix) for fix in finding.fixes],
        whole=finding.whole,
        accepted=accepted[under].reason if under else None,
        accepted_id=under,
    )


def fix_view(fix: Fix) -> FixView:
    """A fix as screens see it."""
    return FixView(label=fix_label(fix), **fix.model_dump(exclude={"code", "params"}))


def _accepted_under(finding: Finding, message: str, accepted: Mapping[str, Accepted]) -> str | None:
    """The id under which it is accepted; None where it is not, or where its figures have changed since."""
    known = accepted.get(finding.id)
    if known is not None and known.params is not None:
        return finding.id if says_the_same(known.params, finding.params) else None
    before = id_of_0_8(finding, message)
    return before if before in accepted else None


def id_of_0_8(finding: Finding, message: str) -> str:
    """The id up to 0.8: a hash of all that was said. Sentences that were reworded since are to be given as they were."""
    code = RENAMED.get(finding.code, finding.code)
    said = [code, finding.piece, finding.face, finding.joint, finding.parting, finding.step, message]
    return hashlib.sha256(json.dumps(said).encode()).hexdigest()[:16]
