"""Two people in one study: invited by a link, seeing each other and what the other does."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect

from hobrix.web.people.models import Happening
from hobrix.web.studies.models import Membership


def test_invited_by_a_link_they_see_each_other_and_what_changes(
    demo: Any, open_page: Callable[..., Page], enter_demo: Callable[..., Page]
) -> None:
    ann = enter_demo(open_page(), "people")
    ann.get_by_label("Role of whom you invite").select_option("analyst")
    ann.get_by_role("button", name="Make a link").click()
    link = ann.get_by_label("The link", exact=True).input_value()

    # Somebody without an account opens the link, makes a mistake, and joins.
    ida = open_page()
    ida.goto(link)
    expect(ida.get_by_role("heading")).to_contain_text("demo invites you to")
    ida.get_by_label("Name").fill("Ida")
    ida.get_by_label("Password").fill("short")
    ida.get_by_role("button", name="Join").click()
    expect(ida.get_by_role("alert")).to_contain_text("too short")
    ida.get_by_label("Password").fill("river and well")
    ida.get_by_role("button", name="Join").click()
    expect(ida).to_have_url(re.compile(rf"/studies/{demo.id}/ask"))

    # Each is seen by the other, with what is being changed.
    ida.goto(f"/studies/{demo.id}/codebook")
    ida.get_by_text("Stomach illness", exact=True).first.click()
    panel = ida.get_by_role("complementary", name="Variable Stomach illness")
    panel.get_by_label("Label", exact=True).first.focus()
    who = ann.get_by_role("link", name="People of this study")
    expect(who.locator(".who")).to_have_attribute(
        "title", "Ida is here, in Codebook, changing Stomach illness"
    )
    expect(ann.get_by_label("Role of Ida")).to_have_value("analyst")

    # What one changes, the other sees without reloading.
    ann.goto(f"/studies/{demo.id}/codebook")
    expect(ann.get_by_text("Stomach illness", exact=True).first).to_be_visible()
    panel.get_by_label("Label", exact=True).first.fill("Ill in the last two weeks")
    panel.get_by_label("Label", exact=True).first.press("Enter")
    expect(ann.get_by_text("Ill in the last two weeks", exact=True).first).to_be_visible()

    # The owner turns her into a reader and reads who did what.
    ann.keyboard.press("6")
    ann.get_by_label("Role of Ida").select_option("reader")
    expect(ann.get_by_role("region", name="What happened")).to_contain_text("Ida prepared:")
    expect(ann.get_by_text("Ida is reader now.")).to_be_visible()
    assert Membership.objects.get(user__username="Ida").role == "reader"
    said = list(Happening.objects.values_list("who", "words"))
    assert ("Ida", "joined as “analyst”") in said
    assert ("demo", "made “Ida” “reader”") in said

    # The link leads nowhere any more; and she leaves by herself.
    stranger = open_page()
    stranger.goto(link)
    expect(stranger.get_by_role("heading")).to_have_text("This invitation holds no more")
    ida.goto(f"/studies/{demo.id}/people")
    ida.get_by_role("button", name="Leave").click()
    expect(ida.get_by_role("heading", name="Studies")).to_be_visible()
    assert not Membership.objects.filter(user__username="Ida").exists()
