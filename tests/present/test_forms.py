"""Forms: what every kind says of its form is about fields it has, and choices they have."""

import unittest

from hinoki.present.forms import FormsView, KindForm, forms_view


class Forms(unittest.TestCase):
    forms: FormsView

    @classmethod
    def setUpClass(cls) -> None:
        cls.forms = forms_view()

    def kinds(self) -> list[KindForm]:
        found = self.forms
        return [*found.joints, *found.partings, *found.prepare, *found.ways, *found.own_sizes, found.hole]

    def test_every_field_of_a_form_is_one_of_its_kind(self) -> None:
        for kind in self.kinds():
            named = {*kind.fields, *kind.words, *kind.only_if, *kind.beside_fit, *kind.picks}
            named |= {other for others in kind.only_if.values() for other in others}
            usual = {"count", "one_way", "on", "spares"}  # what lies beside a fit in most kinds
            self.assertLessEqual(named - usual, set(self.forms.fields[kind.model]), kind.model)

    def test_words_and_conditions_are_about_choices_that_there_are(self) -> None:
        for kind in self.kinds():
            fields = self.forms.fields[kind.model]
            for name, words in kind.words.items():
                self.assertEqual(set(words), set(fields[name]["enum"]), f"{kind.model} {name}")
            for others in kind.only_if.values():
                for name, wanted in others.items():
                    if isinstance(wanted, list) and wanted != [None]:
                        self.assertLessEqual(set(wanted), set(fields[name]["enum"]), f"{kind.model} {name}")

    def test_fields_carry_what_a_form_needs(self) -> None:
        diameter = self.forms.fields["PinJoint"]["diameter_mm"]
        self.assertEqual((diameter["title"], diameter["default"]), ("Diameter", 5.0))
        self.assertEqual(self.forms.fields["ThreadJoint"]["hand"]["enum"], ["right", "left"])
        self.assertIn("maximum", self.forms.fields["Printer"]["bed_mm"]["prefixItems"][0])

    def test_kinds_are_named_once(self) -> None:
        for family in (self.forms.joints, self.forms.partings, self.forms.prepare, self.forms.ways):
            self.assertEqual(len({k.kind for k in family}), len(family))
            self.assertEqual(len({k.name for k in family}), len(family))


if __name__ == "__main__":
    unittest.main()
