"""Every sentence that Hinoki says in Python, read from its sources: what is raised, shown, noticed; forms; the glossary.

What changes in a sentence is a hole: `{0} pieces on {1} beds`, whether it is written as an f-string or with names in braces.
"""

import ast
import re
import tomllib
from collections.abc import Iterator
from pathlib import Path

from hinoki.core.workshop.hardware import magnets
from hinoki.core.workshop.inventory import bearings_on_sale, hole_patterns, rods_on_sale
from hinoki.present.forms import forms_view
from hinoki.present.words import catalogue

ROOT = Path(__file__).parents[1]
DATA = ROOT / "hinoki" / "data"
ROOMS = ("core", "present", "operations", "api", "store", "jobs", "printers")
"""where what screens show comes from; the command line and sheets are not screens"""
NO_WORDS = ("present/sheets/sheet", "store/migrations", "api/openapi")
ALL_WORDS = ("present/words", "present/sheets/instructions", "present/assemble")
"""where every string is said"""
LOGS = {"debug", "info", "warning", "exception", "getLogger"}
LOOKS_UP = {"startswith", "endswith", "get", "split", "compile", "sub", "match", "search", "fullmatch"}
SILENT_CALLS = LOGS | LOOKS_UP | {"execute", "executemany", "open", "encode", "field", "ConfigDict", "Query"}
GLOSSARY = "docs/words.md"
LINKS = ("and", "or")
"""what lists in sentences are joined by"""
UNITS = {"mm", "cm", "kg", "min", "MPa", "utf"}
HOLE = re.compile(r"\{(\w*)(?:[!:][^{}]*)?\}")
LEFT_EMPTY = re.compile(r"(?:^|; )(?:none|empty)(?::| for) (.+)$")
"""what a description tells of a field that is left empty: the screens write it into the field"""
FOR_PROGRAMS = re.compile(
    r"[A-Z]\w*[A-Z]\w*|[A-Z]\w+-[A-Z]\w+|\.\w+|[\w-]+/\d"  # a name of a class or a format, an extension, a version of a format
    r"|(SELECT|INSERT|UPDATE|DELETE|CREATE|PRAGMA|ALTER|WHERE|FROM|VACUUM|BEGIN|ATTACH) .*|.* JOIN .*|\w\.\w+, .*"
    r"|.*%[sd].*"  # SQL, logs
)
NO_WORDS_OF_FORMS = {"kind", "model", "fields", "beside_fit", "picks", "pattern", "type", "default"}
COUNTED = re.compile(r"\{\w*:[#?]([^{}|]*)\|([^{}]*)\}")


def sentences() -> dict[str, str]:
    """What is said by Python, each with the file it stands in."""
    found: dict[str, str] = {}
    for room in ROOMS:
        for path in sorted((ROOT / "hinoki" / room).rglob("*.py")):
            file = path.relative_to(ROOT).as_posix()
            if not any(part in file for part in NO_WORDS):
                for text in said_in(ast.parse(path.read_text()), any(part in file for part in ALL_WORDS)):
                    found.setdefault(text, file)
    for text in _of_forms():
        found.setdefault(text, "hinoki/present/forms.py")
    for text in _of_findings():
        found.setdefault(text, "hinoki/present/words/__init__.py")
    for text in _of_hardware():
        found.setdefault(text, "hinoki/core/workshop/hardware.py")
    for text in _of_glossary():
        found.setdefault(text, GLOSSARY)
    return found | dict.fromkeys(LINKS, "packing/sentences.py")


def _of_hardware() -> Iterator[str]:
    """What things on sale are called, without their sizes: “magnet disc”, “steel”."""
    sold = [*rods_on_sale(), *bearings_on_sale(), *hole_patterns(), *((m.name, m) for m in magnets())]
    yield from (filling["name"] for filling in tomllib.loads((DATA / "fillings.toml").read_text())["filling"])
    for name, _values in sold:
        yield from re.findall(r"[^\W\d_]{3,}(?: [^\W\d_]{3,})*", name)


def _of_glossary() -> Iterator[str]:
    """The words that docs/words.md explains, and what it says of each, as the screens show them."""
    for line in (ROOT / GLOSSARY).read_text().splitlines():
        if line.startswith("| ") and not line.startswith(("| word |", "| ---")):
            yield from (re.sub(r"[*`]", "", part).replace("\\|", "|").strip() for part in re.split(r"(?<!\\)\|", line)[1:3])


def _of_findings() -> Iterator[str]:
    """What findings say, with what kinds bring."""
    yield from (numbered(words) for words in catalogue().values() if isinstance(words, str) and has_words(words))


def numbered(words: str) -> str:
    """A template with its holes numbered: `{piece} is {wall:.1f} mm` gives `{0} is {1} mm`."""
    count = iter(range(99))
    return " ".join(HOLE.sub(lambda _hole: f"{{{next(count)}}}", words).split()).lstrip(",;:·(– ")


def has_words(text: str) -> bool:
    """Whether there is anything to say in another language."""
    words = re.findall(r"[^\W\d_]{2,}", HOLE.sub(" ", text))
    return any(word not in UNITS for word in words)


def said_in(tree: ast.AST, wordy: bool = False) -> Iterator[str]:
    """What the code of a module says, with numbered holes; `wordy`: single small words are said, too."""
    for node, small in _strings(tree, wordy):
        text = _template(node)
        for pair in COUNTED.findall(text):
            yield from (word for word in pair if has_words(word))
        text = numbered(text)
        if has_words(text) and _is_said(text, small):
            yield text
    for table in filter(_is_table, ast.walk(tree)):
        words = (word.value for word in ast.walk(table) if isinstance(word, ast.Constant))
        yield from (word for word in words if isinstance(word, str) and _is_plain(word))


def _template(node: ast.expr) -> str:
    """The text of a string, with braces where something is put in."""
    if isinstance(node, ast.Constant):
        return str(node.value)
    parts = node.values if isinstance(node, ast.JoinedStr) else []
    return "".join(str(p.value) if isinstance(p, ast.Constant) else "{}" for p in parts)


def _is_said(text: str, wordy: bool) -> bool:
    bare = HOLE.sub("", text)
    spoken = re.search(r"[.?!]( |$)", bare) or len(re.findall(r"[^\W\d_]{2,}[ ,;]", bare)) > 2
    if re.search(r"[_\\=<>\[\]|/]|;(?! )|\w\.\w|--", bare) and not spoken:
        return False
    return not FOR_PROGRAMS.fullmatch(text) and (" " in text.strip() or bare[:1].isupper() or wordy)


WORDY = {"title", "name", "says", "when", "group", "words", "label", "text", "what", "phrase", "description"}


def _strings(node: ast.AST, wordy: bool) -> Iterator[tuple[ast.expr, bool]]:
    """The strings of a tree that may be said, and whether one stands where even a single small word is."""
    if isinstance(node, ast.JoinedStr) or (isinstance(node, ast.Constant) and isinstance(node.value, str)):
        yield node, wordy
        for part in ast.walk(node):  # words within what is put in
            if isinstance(part, ast.FormattedValue):
                yield from _strings(part.value, True)
        return
    for name, value in ast.iter_fields(node):
        for child in value if isinstance(value, list) else [value]:
            if isinstance(child, ast.AST) and not _silent(node, name, child):
                yield from _strings(child, wordy or _named(child) in WORDY)


def _named(node: ast.AST) -> str | None:
    """What a function or an argument is called: `label`, `title`."""
    if isinstance(node, ast.FunctionDef):
        return node.name
    return node.arg if isinstance(node, ast.keyword) else None


def _is_table(node: ast.AST) -> bool:
    """Whether it is a type of a few words, or a constant pair of a word and figures: screens show those as they are."""
    if isinstance(node, ast.Subscript):
        return isinstance(node.value, ast.Name) and node.value.id == "Literal"
    return isinstance(node, ast.Tuple) and any(isinstance(one, ast.Tuple) for one in node.elts)


def _is_plain(word: str) -> bool:
    return re.fullmatch(r"[a-z]{2,}( [a-z]+)*", word) is not None and has_words(word)


def _silent(parent: ast.AST, field: str, child: ast.AST) -> bool:
    """Whether what stands there is for the program: docstrings, names that are compared or looked up, queries, logs."""
    if isinstance(child, ast.Expr) and isinstance(child.value, ast.Constant):
        return True
    if isinstance(parent, ast.Compare | ast.Subscript | ast.Assert | ast.Import | ast.ImportFrom | ast.MatchValue):
        return field != "value" or not isinstance(parent, ast.Subscript)
    if isinstance(parent, ast.Dict) and field == "keys":
        return True
    if isinstance(child, ast.Call):
        called = child.func.attr if isinstance(child.func, ast.Attribute) else getattr(child.func, "id", "")
        return called in SILENT_CALLS
    return isinstance(child, ast.AnnAssign) and not child.value


def _of_forms() -> Iterator[str]:
    """Titles, descriptions and choices of all forms."""
    found: list[str] = []

    def walk(thing: object, key: str = "") -> None:
        if isinstance(thing, dict):
            for name, value in thing.items():
                walk(value, name)
        elif isinstance(thing, list):
            for value in thing:
                walk(value, key)
        elif isinstance(thing, str) and key not in NO_WORDS_OF_FORMS:
            found.append(" ".join(thing.split()))
            found.extend(LEFT_EMPTY.findall(thing))

    walk(forms_view().model_dump(mode="json"))
    yield from (text for text in found if has_words(text) and "_" not in text and not FOR_PROGRAMS.fullmatch(text))
