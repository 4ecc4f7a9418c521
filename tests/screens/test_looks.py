"""Every view by day, by night, on a phone: text can be read, nothing sticks out, every control has a name."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import expect

from effort import much
from planned_week import planned_week_files

pytestmark = pytest.mark.screens

VIEWS = {
    "/plan": "Campaigns",
    "/plan?section=channel": "Which rule matches it?",
    "/plan?section=shared_channel": "Shared rules",
    "/plan?section=level": "As spend files show it",
    "/plan?section=": "Currency, zone, targets",
    "/mark": "Link sheet",
    "/mark?part=check": "Check",
    "/mark?part=placing": "13 weeks",
    "/mark?part=hand": "Campaign",
    "/mark?part=pattern": "Platform",
    "/mark?part=mail": "Mail",
    "/mark?part=message": "message",
    "/gather": "Loads",
    "/ads": "would arrive untagged",
    "/invoices": "rows of the month",
    "/selfcheck": "examples hold",
    "/weigh": "break-even",
    "/weigh?where=source+is+quorrin": "Outside the filter",
    "/weigh?trace=row~named~value~Midnight+Boat": "Under Linear",
    "/weigh?columns=traffic&columns=claimed_value": "Claimed value",
    "/findings": "what should you know",
}

CONTRAST = """() => {
  const parse = (text) => (text.match(/[\\d.]+/g) ?? []).map(Number)
  const over = (top, under) => {
    const a = top[3] ?? 1
    return [0, 1, 2].map((i) => top[i] * a + under[i] * (1 - a))
  }
  const canvas = document.createElement('canvas').getContext('2d', { willReadFrequently: true })
  const rgba = (colour) => {
    canvas.clearRect(0, 0, 1, 1)
    canvas.fillStyle = colour
    canvas.fillRect(0, 0, 1, 1)
    const [r, g, b, a] = canvas.getImageData(0, 0, 1, 1).data
    return [r, g, b, a / 255]
  }
  const ground = (element) => {
    const layers = []
    for (let e = element; e; e = e.parentElement) {
      const colour = rgba(getComputedStyle(e).backgroundColor)
      if (colour[3] > 0) layers.push(colour)
      if (colour[3] === 1) break
    }
    return layers.reverse().reduce((under, top) => over(top, under), [255, 255, 255])
  }
  const light = (c) => {
    const [r, g, b] = c.map((v) => v / 255).map((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4))
    return 0.2126 * r + 0.7152 * g + 0.0722 * b
  }
  const poor = []
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
  while (walker.nextNode()) {
    const text = walker.currentNode.textContent.trim()
    const element = walker.currentNode.parentElement
    if (!text || !element || element.closest('script, style, svg, option, datalist, [disabled]')) continue
    const box = element.getBoundingClientRect()
    const style = getComputedStyle(element)
    if (!box.width || !box.height || style.visibility === 'hidden' || style.clipPath !== 'none') continue
    const under = ground(element)
    const [a, b] = [light(over(rgba(style.color), under)), light(under)].sort((x, y) => y - x)
    const ratio = (a + 0.05) / (b + 0.05)
    if (ratio < 4.5) poor.push(`${ratio.toFixed(2)} ${text.slice(0, 40)}`)
  }
  return [...new Set(poor)]
}"""
"""Text whose contrast is below 4.5 : 1 (WCAG 2.2, 1.4.3), by the relative luminance of that standard."""

STICKS_OUT = """() => {
  const wide = document.documentElement.clientWidth
  return document.documentElement.scrollWidth > wide
    ? [...document.querySelectorAll('body *')].filter((e) => e.getBoundingClientRect().right > wide + 1)
        .map((e) => `${e.tagName}.${e.className}`).slice(0, 5)
    : []
}"""

NAMELESS = """() => [...document.querySelectorAll('button, a[href], input, select, textarea')]
  .filter((e) => e.getBoundingClientRect().width)
  .filter((e) => !(e.getAttribute('aria-label') || e.textContent.trim() || e.title || e.labels?.length
    || e.getAttribute('aria-labelledby')))
  .map((e) => e.outerHTML.slice(0, 120))"""


AXE = (Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js").read_text()
FOUND_BY_AXE = """async (within) => {
  const opened = within && document.querySelector(within)
  // What lies half under a list that is open is no smaller for that: sizes are those of the list.
  const size = { 'target-size': { enabled: true } }
  const runs = opened
    ? [
        () => axe.run(document, { resultTypes: ['violations'] }),
        () => axe.run(opened.closest('dialog, .list, .blank-of') ?? opened, {
          resultTypes: ['violations'], runOnly: ['target-size'],
        }),
      ]
    : [() => axe.run(document, { resultTypes: ['violations'], rules: size })]
  const out = []
  for (const run of runs) out.push(...(await run()).violations)
  return out.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 110)}`)).slice(0, 6)
}"""
"""What axe-core 4, a checker of others, says against the Web Content Accessibility Guidelines 2.2 and its own good
practice; size of targets is of 2.2 and has to be asked for."""
PALE_STROKES = """() => [...document.querySelectorAll('svg :is(line, path, rect, text)')]
  .filter((e) => e.getBoundingClientRect().width + e.getBoundingClientRect().height > 0)
  .filter((e) => { const s = getComputedStyle(e); return s.visibility !== 'hidden' })
  .filter((e) => {
    const forced = ['rgb(0, 0, 0)', 'rgb(255, 255, 255)', 'none', 'rgba(0, 0, 0, 0)']
    const s = getComputedStyle(e)
    return [s.stroke, s.fill].some((c) => !forced.includes(c))
  })
  .map((e) => `${e.tagName}.${e.getAttribute('class')} in ${e.closest('svg').getAttribute('class')}`)
  .filter((one, at, all) => all.indexOf(one) === at).slice(0, 5)"""
"""What is drawn in another colour than the reader's own two, where colours are forced."""


@pytest.fixture
def loaded(page, give):
    give(planned_week_files())
    page.goto("/mark")
    page.get_by_role("button", name="Add a row").click()
    page.locator(".line [data-column=page]").dblclick()
    page.keyboard.type("https://www.lunnick.example/night")
    page.keyboard.press("Enter")
    return page


WIDTHS = {"a phone": 390, "1,280 twice as large": 640, "a narrow screen": 1024, "paper": 794, "forced colours": 1280}


def test_the_measures_find_what_is_wrong(page):
    page.goto("/weigh")
    page.get_by_text("Nothing is loaded yet").wait_for()
    assert [page.evaluate(measure) for measure in (CONTRAST, STICKS_OUT, NAMELESS)] == [[], [], []]
    page.evaluate("""document.querySelector('#app').insertAdjacentHTML('beforeend',
      '<p style="color: #99a; width: 3000px">pale</p><button><svg/></button>')""")
    assert page.evaluate(CONTRAST)[0].endswith(" pale")
    assert "P." in page.evaluate(STICKS_OUT)
    assert len(page.evaluate(NAMELESS)) == 1
    page.evaluate("""document.querySelector('#app').insertAdjacentHTML('beforeend',
      '<svg class="s"><line class="l" x2="9" y2="9" style="stroke: #a74"/></svg><button style="padding: 0">x</button><button style="padding: 0">y</button>')""")
    page.emulate_media(forced_colors="active")
    assert page.evaluate(PALE_STROKES) == ["line.l in s"]
    page.emulate_media(forced_colors="none")
    assert any(said.startswith("target-size") for said in look(page, (FOUND_BY_AXE,)))


def look(page, measures):
    page.evaluate(AXE)
    return [said for measure in measures for said in page.evaluate(measure)]


def by_night(page):
    """The same view in the other theme; a dialog covers the button for it, and is opened anew."""
    dialog = page.get_by_role("dialog").count()
    if dialog:
        page.keyboard.press("Escape")
    page.get_by_role("button", name="Night", exact=True).click()
    if dialog:
        page.go_back()
    page.evaluate("() => Promise.allSettled(document.getAnimations().map((fading) => fading.finished))")
    # By the same standard as axe, at every text: of the rest nothing depends on the theme.
    found = look(page, (CONTRAST,))
    if dialog:
        page.keyboard.press("Escape")
    page.get_by_role("button", name="Paper", exact=True).click()
    return found


def at_every_width(page, by_axe):
    """What sticks out on a phone, at 1,024 pixels, at 1,280 with everything twice as large, and printed; what is no
    colour of the reader's where colours are forced; in some of these states what axe says."""
    found = {}
    for name, width in WIDTHS.items():
        page.emulate_media(
            media="print" if name == "paper" else "screen",
            forced_colors="active" if name == "forced colours" else "none",
        )
        page.set_viewport_size({"width": width, "height": 800})
        page.evaluate("() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)))")
        measures = [
            PALE_STROKES if name == "forced colours" else STICKS_OUT,
            *([FOUND_BY_AXE] if name in by_axe else []),
        ]
        if wrong := [said for measure in measures for said in page.evaluate(measure)]:
            found[name] = wrong
    page.emulate_media(media="screen", forced_colors="none")
    page.set_viewport_size({"width": 1280, "height": 800})
    return found


ON_SCREEN = [name for name in WIDTHS if name != "paper"]


def test_every_view_can_be_read_by_day_and_by_night_on_every_width_and_every_control_has_a_name(loaded):
    """Axe looks at each view in one of the states by turns, the usual one among them; nightly in all."""
    wrong = {}
    for at, (path, words) in enumerate(VIEWS.items()):
        loaded.goto(path)
        loaded.get_by_text(words).filter(visible=True).first.wait_for()
        states = ["by day", *ON_SCREEN]
        by_axe = much([states[at % len(states)]], states)
        usual = (CONTRAST, NAMELESS, *([FOUND_BY_AXE] if "by day" in by_axe else []))
        found = {"by day": look(loaded, usual)} | at_every_width(loaded, by_axe)
        found["by night"] = by_night(loaded)
        wrong |= {(path, when): said for when, said in found.items() if said}
    assert wrong == {}, "\n".join(map(str, wrong.items()))


def by_key(*keys):
    """Opens a part of the board by keys."""

    def opens(page):
        for key in keys:
            page.keyboard.press(key)

    return opens


OPENED = {
    "a word of the question": (by_key("q", "Enter"), "[role=listbox]"),
    "the days": (by_key("r"), "input[aria-label=From]"),
    "a filter": (by_key("f"), "select[aria-label=Field]"),
    "the columns": (
        lambda page: page.get_by_role("button", name="Columns: money").click(),
        "[aria-label='Own columns']",
    ),
    "what takes it away": (by_key("e"), "[aria-label='Export as']"),
    "a row closer": (
        lambda page: (page.locator("tr[data-row] [data-figure=value]").first.focus(), page.keyboard.press("z")),
        "dialog.closer svg",
    ),
}


@pytest.mark.parametrize("width", [1280, 390] if much(0, 1) == 0 else [1280, 1024, 390])
def test_what_opens_on_the_board_can_be_read_and_closes_again(loaded, width):
    page = loaded
    page.set_viewport_size({"width": width, "height": 800})
    wrong = {}
    for what, (opens, shows) in OPENED.items():
        page.goto("/weigh?from=2026-03-05&to=2026-03-08&against=before")
        page.get_by_text("break-even").filter(visible=True).first.wait_for()
        opens(page)
        page.locator(shows).first.wait_for()
        found = look(page, (CONTRAST, NAMELESS, STICKS_OUT)) + page.evaluate(FOUND_BY_AXE, shows)
        if found:
            wrong[what] = found
        page.keyboard.press("Escape")
        expect(page.locator(shows)).to_have_count(0)
    assert wrong == {}, "\n".join(map(str, wrong.items()))


def test_paper_carries_what_was_asked(loaded):
    loaded.goto("/weigh?yardstick=last&where=source+is+quorrin&from=2026-03-02&to=2026-03-08")
    loaded.emulate_media(media="print")
    words = "By campaign, 2026-03-02 to 2026-03-08, yardstick Last touch, look-back"
    loaded.get_by_text(words).filter(visible=True).wait_for()
    loaded.get_by_text("only where source is quorrin").filter(visible=True).wait_for()
    loaded.get_by_text("Fingerprint").filter(visible=True).wait_for()
    assert not loaded.get_by_role("combobox").filter(visible=True).count()
