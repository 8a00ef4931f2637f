"""Forms: few fields first, what Hinoki chose looks another way than what was typed, and is given back to it."""

from playwright.sync_api import expect

from tests.shapes import box, level, stl_of
from tests.ui.joining import JoinCase


class Forms(JoinCase):
    all_fields = False

    def test_few_fields_stand_first_and_a_typed_value_is_given_back(self) -> None:
        self.show(self.started("Block", stl_of(box(60, 60, 60)), partings=[level(1, 30).model_dump(mode="json")]), "join")
        self.edited(self.at("add-pin").click)
        form = self.page.locator(".row:visible [data-test^=field-]")
        few = form.count()
        more = self.at("more-fields")
        expect(more).to_contain_text("tip")
        more.click()
        self.assertGreater(form.count(), few)
        tip = self.page.locator(".row").filter(has=self.at("field-tip_mm"))
        expect(tip).to_contain_text("by its size")  # Hinoki's choice, said in words
        self.edited(lambda: self.type_in("tip_mm", "1.2"))
        more.click()
        expect(tip).to_be_visible()  # what was typed is never put away
        expect(tip).not_to_contain_text("by its size")
        self.edited(self.page.get_by_role("button", name="Tip: give it back to Hinoki, by its size").click)
        expect(self.at("field-tip_mm").locator("visible=true")).to_have_count(0)
        more.click()
        expect(tip).to_contain_text("by its size")

    def test_a_wrong_value_is_told_beside_its_field_and_what_was_there_stays(self) -> None:
        self.show(self.started("Block", stl_of(box(60, 60, 60)), partings=[level(1, 30).model_dump(mode="json")]), "join")
        self.edited(self.at("add-pin").click)
        was = self.revision()
        self.type_in("diameter_mm", "900")
        row = self.page.locator(".row").filter(has=self.at("field-diameter_mm"))
        expect(row.get_by_role("alert")).to_contain_text("Between")
        self.type_in("diameter_mm", "seven")
        expect(row.get_by_role("alert")).to_have_text("Type a number.")
        self.assertEqual(self.revision(), was)
