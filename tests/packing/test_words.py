"""The catalogue of all that Hinoki says: read from the sources, and shipped as they are now."""

import ast
import unittest

from babel.messages.pofile import read_po

from hinoki.store.languages import TEMPLATE
from packing.sentences import numbered, said_in
from packing.words import everything


class Sentences(unittest.TestCase):
    def read(self, source: str) -> list[str]:
        return list(said_in(ast.parse(source)))

    def test_what_changes_in_a_sentence_is_a_numbered_hole(self) -> None:
        self.assertEqual(self.read('raise Refused(f"{a} is {b:.1f} mm from {c!r}.")'), ["{0} is {1} mm from {2}."])
        self.assertEqual(numbered("; {piece} ({number:d})  fits"), "{0} ({1}) fits")

    def test_words_that_are_put_in_are_said_too(self) -> None:
        self.assertEqual(
            self.read("words(f\"{n} {'seat' if n == 1 else 'seats'} are cut\")"), ["{0} {1} are cut", "seat", "seats"]
        )
        self.assertEqual(self.read('say("{n} {n:?is|are} here")'), ["is", "are", "{0} {1} here"])

    def test_a_single_word_counts_where_words_stand(self) -> None:
        self.assertEqual(self.read('show(label="hollow")'), ["hollow"])
        self.assertEqual(self.read('Proof = Literal["proved", "tried by sampling"]'), ["proved", "tried by sampling"])
        self.assertEqual(self.read('step("hollow")'), [])

    def test_what_is_for_the_program_is_left_out(self) -> None:
        for source in (
            'def f():\n    """A sentence about the code."""',
            'database.execute("SELECT name FROM projects WHERE id = ?")',
            'log.info("A part was made of %s", part)',
            'if kind == "Two words":\n    pass',
            'name = "hinoki-plan/1"',
            'names: "JointBase"',
        ):
            with self.subTest(source):
                self.assertEqual(self.read(source), [])


class Shipped(unittest.TestCase):
    def test_the_catalogue_that_is_shipped_is_what_the_sources_say(self) -> None:
        with TEMPLATE.open("rb") as file:
            shipped = {str(one.id) for one in read_po(file) if one.id}
        now = {str(one.id) for one in everything() if one.id}
        self.assertEqual(sorted(now ^ shipped), [], "run `python3 run.py words`")
