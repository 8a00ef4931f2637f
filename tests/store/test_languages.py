"""Catalogues of languages: found where makers put them, read as PO files, and used as far as they can be."""

import tempfile
import unittest
from pathlib import Path

from babel.messages.pofile import read_po

from hinoki.core.errors import NotFound, UnreadableCatalogue
from hinoki.store.languages import TEMPLATE, languages, sentences
from tests.made_up import CODE, in_made_up, write_made_up

GERMAN = """
msgid ""
msgstr "Content-Type: text/plain; charset=utf-8\\n"

msgid "{0} pieces on {1} beds"
msgstr "{1} Betten mit {0} Teilen"

msgid "{0} pins"
msgstr "Stifte"

#, fuzzy
msgid "Workshop"
msgstr "Werkzeug"

msgid "Batch"
msgstr ""
"""


class Languages(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_there_are_none_in_a_folder_that_is_not_there(self) -> None:
        self.assertEqual(languages(self.folder / "none"), [])

    def test_a_language_is_told_by_its_own_name_with_the_share_it_says(self) -> None:
        write_made_up(self.folder, share=0.25)
        (self.folder / "de.po").write_text(GERMAN)
        (self.folder / "notes for me.po").write_text(GERMAN)
        german, made_up = languages(self.folder)
        self.assertEqual((german.code, german.name, made_up.code, made_up.name), ("de", "Deutsch", CODE, CODE))
        self.assertAlmostEqual(made_up.share, 0.25, places=3)
        self.assertLess(german.share, 0.001)

    def test_what_is_doubtful_empty_or_lacks_a_hole_is_not_said(self) -> None:
        (self.folder / "de.po").write_text(GERMAN)
        self.assertEqual(sentences(self.folder, "de"), {"{0} pieces on {1} beds": "{1} Betten mit {0} Teilen"})

    def test_what_is_no_catalogue_is_told_in_a_sentence(self) -> None:
        for broken in (b'msgid "Batch"\nmsgtext "Los"\n', b'msgid "Batch"\nmsgstr "\xff\xfe"\n', b"PK\x03\x04"):
            with self.subTest(broken):
                (self.folder / "de.po").write_bytes(broken)
                (told,) = languages(self.folder)
                self.assertRegex(told.problem, r"^de\.po is no catalogue in the form of gettext: .+ Save it as a PO file\.$")
                with self.assertRaises(UnreadableCatalogue):
                    sentences(self.folder, "de")

    def test_a_language_that_is_not_there_or_leads_elsewhere_is_refused(self) -> None:
        outside = self.folder.parent / "outside.po"
        for code in ("de", "../outside", outside.stem, ""):
            with self.subTest(code), self.assertRaises(NotFound):
                sentences(self.folder, code)


class ShippedCatalogue(unittest.TestCase):
    def test_it_holds_sentences_of_every_part_of_hinoki_with_their_holes(self) -> None:
        with TEMPLATE.open("rb") as file:
            said = {str(one.id) for one in read_po(file) if one.id}
        self.assertGreater(len(said), 4000)
        for sentence in ("Choose a file", "dovetail", "{0} seats"):
            self.assertIn(sentence, said)
        self.assertEqual([text for text in said if "{}" in text or "  " in text or text != text.strip()], [])

    def test_the_made_up_language_keeps_holes(self) -> None:
        self.assertEqual(in_made_up("{0} pieces on {1} beds"), "{0} pïècès ön {1} bèds")
