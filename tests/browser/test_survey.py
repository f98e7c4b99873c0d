"""A survey design in the browser: every lens leads with it, and shows what it moves."""

from collections.abc import Callable

from playwright.sync_api import Page, expect


def test_a_design_leads_in_every_lens_and_is_left_with_a_click(
    page: Page, enter_demo: Callable[..., Page], no_serious_findings: Callable[[Page], None]
) -> None:
    enter_demo(page)
    page.get_by_role("link", name="…with the design of the sample").click()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("With the design of the sample, the odds ratio")
    expect(page.get_by_label("The sample")).to_contain_text("60 clusters")
    expect(page.get_by_label("Who is counted")).to_contain_text("weighted by Household weight")
    no_serious_findings(page)
    page.get_by_role("tab", name="Crosstab").click()
    expect(answer).to_contain_text("Rao–Scott F(")
    expect(page.get_by_role("columnheader", name="n, unweighted")).to_be_visible()
    no_serious_findings(page)
    page.get_by_role("tab", name="Proportions").click()
    expect(answer.get_by_role("columnheader", name="design effect")).to_be_visible()
    page.get_by_role("tab", name="Distribution").click()
    expect(answer).to_contain_text("Weighted,")
    page.get_by_text("What a design leaves out").click()
    expect(answer).to_contain_text("There is no exact test of a weighted sample")
    page.get_by_role("button", name="without the design", exact=True).click()
    expect(page.get_by_label("The sample")).to_have_count(0)
    expect(page.get_by_label("Who is counted")).to_contain_text("each household counts once")
