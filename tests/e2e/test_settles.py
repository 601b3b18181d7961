"""What waits for the page waits for all that it asked its server for, not for its edits only: on a busy machine an answer
comes late.
"""

import pytest

LATE = """() => {
    const ask = window.fetch;
    window.fetch = async (path, ...more) => {
        if (String(path).includes("/api/artworks/")) await new Promise((done) => setTimeout(done, 600));
        return ask(path, ...more);
    };
}"""


@pytest.mark.parametrize("words", ["ellipse", "rectangle"])
def test_a_layer_whose_artwork_comes_late_is_there_once_the_page_has_settled(bench, words):
    scene = bench.served.document().scenes[0]
    bench.tab.evaluate(LATE)
    bench.tab.get_by_role("button", name="Add", exact=True).click()
    bench.tab.locator(f"#add-menu [data-add={words}]").click()
    bench.settle()
    added = bench.served.document().scene(scene.id).layers[0]
    assert added.artwork.kind == words
    assert added.id not in {each.id for each in scene.layers}
