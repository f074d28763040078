"""An end that goes on from another body, asked for on the Run and read off how the faces of the joined body meet."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.steps.test_loft_ends import two
from tests.ui.floor import Floor


@pytest.fixture
def neck(page: Page, server: Server) -> Floor:
    """A second body that stands on the end of a first, joined to it."""
    document, below, _ = two("free")
    made = server.client.post("/api/designs/file", content=document.model_dump_json()).json()
    step = document.steps[-1].id
    result = {"type": "join", "body": {"step": below}}
    server.edit(made["id"], made["revision"], {"do": "set-param", "step": step, "path": ["result"], "value": result})
    floor = Floor(page, server, made["id"])
    floor.open()
    return floor


def test_tangent_at_the_foot_then_curved_alike_and_the_report_says_so(neck: Floor) -> None:
    page = neck.page
    step = neck.document["steps"][-1]["id"]
    page.get_by_label("Build").get_by_text("Neck", exact=True).click()
    page.get_by_role("button", name="Continuity", exact=True).click()
    seams = page.get_by_role("group", name="Continuity").get_by_role("listitem")
    foot = seams.filter(has_text="between the side of Hull and the side of Neck").or_(
        seams.filter(has_text="between the side of Neck and the side of Hull")
    )
    expect(foot).to_contain_text("G0")
    for title, shape, grade in (("Tangent to a body", "tangent", "G1"), ("Curved like a body", "curvature", "G2")):
        before = neck.settled()
        page.get_by_role("button", name=": the start of the body").click()
        page.get_by_role("combobox", name="Start shape").click()
        page.get_by_role("option", name=title).click()
        wait_until(lambda wanted=shape: neck.params(step)["start"].get("shape") == wanted)
        page.keyboard.press("Escape")
        wait_until(lambda known=before: abs(neck.volume - known) > 1.0)
        expect(foot).to_contain_text(grade)
    assert neck.params(step)["start"]["onto"]["step"].startswith("loft-")
