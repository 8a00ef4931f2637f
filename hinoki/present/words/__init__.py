"""The catalogue of words: what findings, their fixes and the issues of a surface say, by code.

`code/case` where a finding has a case. Kinds of joint and parting bring the words for what only they notice (`words`).
"""

from collections.abc import Mapping
from functools import cache

from hinoki.core.divide.partings import Parting
from hinoki.core.findings import Finding, Fix
from hinoki.core.forms import kind_name, kinds_of
from hinoki.core.join.joints import Joint
from hinoki.core.model.health.report import Issue
from hinoki.present.words.assemble import ASSEMBLE
from hinoki.present.words.divide import DIVIDE
from hinoki.present.words.fixes import FIXES
from hinoki.present.words.join import JOIN, PROBLEMS
from hinoki.present.words.model import MODEL
from hinoki.present.words.wording import Figures, Words, say


@cache
def catalogue() -> Mapping[str, Words]:
    """The words of all findings by `code` or `code/case`, those of kinds' own problems by `kind:code` or `kind:code/case`."""
    partings = {code: words for kind in kinds_of(Parting) for code, words in kind.words.items()}
    problems: dict[str, Words] = {}
    for kind in kinds_of(Joint):
        problems |= {f"{kind_name(kind)}:{code}": _of_element(words) for code, words in (PROBLEMS | kind.words).items()}
    return {**MODEL, **DIVIDE, **partings, **JOIN, **problems, **ASSEMBLE}


def sentence(finding: Finding) -> str:
    """What a finding says. Raises KeyError for a code without words, or where a figure is missing."""
    place: Figures = {
        "piece": finding.piece,
        "face": finding.face,
        "parting": (finding.parting or "").upper(),
    }
    return say(_found(finding.code, finding.params), {**place, **finding.params})


def issue_sentence(issue: Issue) -> str:
    """What an issue of a surface says."""
    return say(_found(issue.code, issue.figures), issue.figures)


def fix_label(fix: Fix) -> str:
    """What is written on a fix."""
    return say(FIXES[fix.code], {"parting": (fix.parting or "").upper(), **fix.params})


def _of_element(words: Words) -> Words:
    return f"{{name}} on {{face}} {words}" if isinstance(words, str) else words


def _found(code: str, figures: Figures) -> Words:
    name = f"{figures['kind']}:{code}" if "kind" in figures else code
    case = f"{name}/{figures['case']}" if "case" in figures else name
    words = catalogue()
    return words[case] if case in words else words[name]
