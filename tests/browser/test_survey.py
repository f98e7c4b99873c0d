"""A survey design in the browser: every lens leads with it, and shows what it moves."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from browser.conftest import bring, sign_in


def test_a_design_leads_in_every_lens_and_is_left_with_a_click(
    page: Page, enter_demo: Callable[..., Page], no_serious_findings: Callable[[Page], None]
) -> None:
    enter_demo(page)
    page.get_by_role("link", name="…with the design of the sample").first.click()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("Weighted and allowing for Water source, Monthly income and Age")
    expect(answer.get_by_role("columnheader", name="unadjusted")).to_be_visible()
    expect(page.get_by_role("group", name="Odds ratios with intervals")).to_be_visible()
    counted = page.get_by_label("Who is counted")
    expect(counted).to_contain_text("weighted by Household weight, 60 clusters, 5 strata")
    page.get_by_text("How well it fits").click()
    expect(answer).to_contain_text("A small p means misfit")
    page.get_by_text("Try a profile").click()
    page.get_by_role("button", name="Try a profile").click()
    expect(page.get_by_role("row", name="probability of Yes")).to_contain_text("%")
    page.get_by_role("button", name="with and without, side by side").click()
    beside = page.get_by_label("Three ways side by side")
    expect(beside).to_contain_text("Strata and clusters move no estimate")
    expect(beside.get_by_role("columnheader")).to_have_count(4)
    no_serious_findings(page)
    page.get_by_role("tab", name="Crosstab").click()
    expect(answer).to_contain_text("Rao–Scott test")
    expect(beside.get_by_role("row", name="Test of no association")).to_be_visible()
    table = answer.get_by_role("region", name="Cross-tabulation")
    expect(table.get_by_role("columnheader", name="sampled")).to_be_visible()
    answer.get_by_role("radio", name="% within Stomach illness").click()
    none = table.get_by_role("row", name="None")
    within = none.get_by_role("cell").first.text_content()
    answer.get_by_role("radio", name="% within Schooling of head").click()
    assert none.get_by_role("cell").first.text_content() != within
    none.get_by_role("cell").first.hover()
    expect(answer).to_contain_text("Schooling of head: None. Weighted, ")
    page.keyboard.press("x")
    expect(table.get_by_role("columnheader", name="None")).to_be_visible()
    page.get_by_role("button", name="with the design alone").click()
    expect(beside).to_have_count(0)
    page.get_by_text("How strong").click()
    expect(answer.get_by_role("rowheader", name="gamma", exact=True)).to_be_visible()
    no_serious_findings(page)
    page.get_by_role("tab", name="Proportions").click()
    expect(answer.get_by_role("columnheader", name="design effect")).to_be_visible()
    page.get_by_text("Table of characteristics").click()
    page.get_by_label("with tests").check()
    expect(answer).to_contain_text("those of the weighted population, and tests allow for strata")
    page.get_by_role("tab", name="Distribution").click()
    expect(answer).to_contain_text("Weighted,")
    page.get_by_text("What goes with it?").click()
    expect(answer).to_contain_text("weighted and with the design of the sample")
    page.get_by_text("Against expected shares").click()
    page.get_by_role("button", name="Equal shares").click()
    expect(answer).to_contain_text("depart from equal shares (p < 0.001, Rao–Scott test of fit)")
    page.get_by_text("What a design leaves out").click()
    expect(answer).to_contain_text("There is no exact test of a weighted sample")
    page.get_by_role("button", name="without the design", exact=True).click()
    expect(page.get_by_label("The sample")).to_have_count(0)
    expect(page.get_by_label("Who is counted")).to_contain_text("each household counts once")


@pytest.mark.usefixtures("each_household_once")
def test_weights_are_fitted_to_totals_and_errors_drawn(
    page: Page, enter_demo: Callable[..., Page], no_serious_findings: Callable[[Page], None]
) -> None:
    enter_demo(page, "data")
    page.get_by_role("combobox", name="Counted").press("ArrowDown")
    page.get_by_role("option", name="by a survey design").click()
    page.get_by_role("button", name="Fit weights to known totals").click()
    page.get_by_role("combobox", name="Totals are known of").press("ArrowDown")
    page.get_by_role("option", name="Home flooded in spring").click()
    page.keyboard.press("Escape")
    no = page.get_by_label("Known total of No")
    no.fill("seventy")
    expect(page.get_by_role("alert")).to_contain_text("“No” needs a count or a share above 0")
    no.fill("70")
    page.get_by_label("Known total of Yes").fill("30")
    expect(page.get_by_text("Every total is met after 1 round.")).to_be_visible()
    expect(page.get_by_role("row", name="70.0%")).to_be_visible()
    no_serious_findings(page)
    page.get_by_role("button", name="Make and use these weights").click()
    expect(page.get_by_text("Left out:")).to_be_visible()
    # Taking the weights back leaves no design that names them.
    expect(page.get_by_text("The data are weighted by fitted_weight now.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("combobox", name="Counted")).to_have_value("each household once")
    expect(page.get_by_role("columnheader", name="Fitted weight")).to_have_count(0)
    page.get_by_role("combobox", name="Counted").press("ArrowDown")
    page.get_by_role("option", name="by a survey design").click()
    page.get_by_role("button", name="Fit weights to known totals").click()
    page.get_by_role("combobox", name="Totals are known of").press("ArrowDown")
    page.get_by_role("option", name="Home flooded in spring").click()
    page.keyboard.press("Escape")
    no.fill("70")
    page.get_by_label("Known total of Yes").fill("30")
    page.get_by_role("button", name="Make and use these weights").click()
    expect(page.get_by_text("Left out:")).to_be_visible()
    # Strata and clusters come with the design; its errors by drawing clusters again.
    for slot, name in (("Strata", "District"), ("Clusters", "Village")):
        page.get_by_role("combobox", name=slot, exact=True).press("ArrowDown")
        page.get_by_role("option", name=name, exact=True).click()
        expect(page.get_by_role("combobox", name=slot, exact=True)).to_have_value(name)
    expect(page.get_by_text("clusters in 5 strata: 55 degrees of freedom")).to_be_visible()
    page.get_by_role("combobox", name="Errors").press("ArrowDown")
    page.get_by_role("option", name="drawing clusters again").click()
    draws = page.get_by_label("Draws")
    draws.fill("5")
    draws.press("Enter")
    expect(page.get_by_text("From 100 to 2,000")).to_be_visible()
    draws.fill("200")
    draws.press("Enter")
    page.get_by_role("link", name="Ask", exact=True).click()
    page.get_by_role("button", name="with the design", exact=True).click()
    expect(page.get_by_label("Answer", exact=True)).to_contain_text("200 draws of clusters")
    expect(page.get_by_label("Who is counted")).to_contain_text("weighted by Fitted weight")


def test_a_stratum_with_one_cluster_is_taken_together_with_another(
    page: Page, mira: Any, tmp_path: Path
) -> None:
    rows = [
        f"{'yes' if i % 3 else 'no'},{1 + (i * 7 % 41) / 30:.3f},{'S' if i < 10 else 'N'},{'' if i < 10 else i // 10}v"
        for i in range(60)
    ]
    file = tmp_path / "small.csv"
    file.write_text("ill,w,part,village\n" + "\n".join(rows) + "\n")
    sign_in(page)
    bring(page, file)
    page.get_by_role("button", name="Use this data").click()
    page.wait_for_url("**/codebook/**")
    page.get_by_role("link", name="Data", exact=True).click()
    page.get_by_role("combobox", name="Counted").press("ArrowDown")
    page.get_by_role("option", name="by a survey design").click()
    for slot, name in (("Weights", "w"), ("Strata", "part"), ("Clusters", "village")):
        page.get_by_role("combobox", name=slot, exact=True).press("ArrowDown")
        page.get_by_role("option", name=name, exact=True).click()
        expect(page.get_by_role("combobox", name=slot, exact=True)).to_have_value(name)
    expect(page.get_by_text("Only one cluster in 1 of the strata (S)")).to_be_visible()
    page.get_by_role("combobox", name="Strata with one cluster").press("ArrowDown")
    page.get_by_role("option", name="add their distance").click()
    expect(page.get_by_text("each adds its distance from the mean of all")).to_be_visible()
    page.get_by_role("combobox", name="Take S together with").press("ArrowDown")
    page.get_by_role("option", name="N", exact=True).click()
    expect(page.get_by_text("Taken as one stratum: N with S.")).to_be_visible()
    expect(page.get_by_text("6 clusters in 1 stratum: 5 degrees of freedom.")).to_be_visible()
    page.get_by_role("button", name="Apart again").click()
    expect(page.get_by_text("Only one cluster in 1 of the strata (S)")).to_be_visible()
