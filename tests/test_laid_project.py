"""What is kept between edits, what is made anew, and the picture that is drawn without a browser."""

from io import BytesIO

import numpy as np
import PIL.Image
import pytest

from pivrel.core.cache import BoundedCache
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE
from pivrel.materials.images import encode
from pivrel.project.computing import Computing
from pivrel.project.laid import LaidProject
from pivrel.project.picture import PAPER, affordable, draw, in_view, pixels_a_mm
from pivrel.recipe import FinishModel
from pivrel.store.documents import Contents, Document, MaterialBody
from tests.shapes import cuboid, mesh_of

SURFACE, COMPUTING = Surface(cuboid()), Computing()


def finish(key, pick, **changed):
    body = {
        "name": key, "material": "brick", "pick": pick, "projection": {"kind": "box"},
        "datum": {"origin_mm": [0, 0, 0], "x_axis": [1, 0, 0], "z_axis": [0, 0, 1]},
        "turn_deg": 0.0, "grain_deg": None, "offset_mm": [0, 0], "scale": [1, 1], **changed,
    }  # fmt: skip
    return Document(key, int(key[1:]), FinishModel.model_validate(body))


def project(*finishes, repeat=(900, 600), grain=0.0):
    brick = Document(
        "brick",
        0,
        MaterialBody(name="brick", repeat_mm=repeat, grain_deg=grain, metallic=0, images={}),
    )
    contents = Contents({f.key: f for f in finishes}, {"brick": brick})
    return LaidProject("mesh", SURFACE, contents, COMPUTING).schedule


TOP, ALL = {"faces": [1]}, {"all": True}


def test_a_turn_touches_the_laying_of_its_own_finish_only():
    before = project(finish("F1", ALL), finish("F2", TOP))
    after = project(finish("F1", ALL, turn_deg=90.0), finish("F2", TOP))
    assert before.cover_key == after.cover_key
    assert before.laying_key("F1") != after.laying_key("F1")
    assert before.laying_key("F2") == after.laying_key("F2")
    assert before.laying("F2") is after.laying("F2"), "not even made again"


def test_names_and_repeats_move_nothing():
    before = project(finish("F1", ALL))
    assert before.laying_key("F1") == project(finish("F1", ALL, name="Wall")).laying_key("F1")
    assert before.laying_key("F1") == project(finish("F1", ALL), repeat=(450, 300)).laying_key("F1")
    assert (
        before.figures("F1").worst_gap_mm
        != project(finish("F1", ALL), repeat=(450, 300)).figures("F1").worst_gap_mm
    )


def test_grain_of_the_material_moves_only_finishes_that_state_theirs():
    for stated, same in ((None, True), (30.0, False)):
        turn = 0.0 if stated is None else None
        rows = [project(finish("F1", ALL, grain_deg=stated, turn_deg=turn), grain=g) for g in (0.0, 90.0)]
        assert (rows[0].laying_key("F1") == rows[1].laying_key("F1")) is same


def test_a_pick_moves_the_cover_and_all_that_lies_under_it():
    before, after = project(finish("F1", ALL)), project(finish("F1", ALL), finish("F2", TOP))
    assert before.cover_key != after.cover_key
    assert after.covering().face_finish.tolist() == [0, 1, 0, 0, 0, 0]
    assert (after.drawn("F1").tolist(), after.drawn("F2").tolist()) == ([0, 2, 3, 4, 5], [1])
    areas, bare = after.shown_areas()
    assert (areas["F1"], areas["F2"], bare) == pytest.approx((5, 1, 0))
    assert project(finish("F2", TOP)).bare().tolist() == [0, 2, 3, 4, 5]


def test_layings_are_float32_of_the_cores_own_numbers():
    st = project(finish("F1", ALL, turn_deg=33.3, scale=[1.7, 0.4])).laying("F1")
    exact = project(finish("F1", ALL, turn_deg=33.3, scale=[1.7, 0.4]))
    from pivrel.core.laying import lay, settle

    core = exact.finishes["F1"]
    double = lay(SURFACE, core, exact.drawn("F1"), settle(SURFACE, core))
    assert st.dtype == np.float32
    np.testing.assert_array_equal(st, double.astype(np.float32))


def test_recent_values_are_dropped_oldest_first():
    recent, made = BoundedCache(bytes_at_most=10), []

    def value(key, size=4):
        return recent.get(key, lambda: made.append(key) or key, lambda _: size)

    value("a"), value("b"), value("a"), value("c")
    assert made == ["a", "b", "c"]
    value("a")
    assert made == ["a", "b", "c"], "a was used after b"
    value("b")
    assert made == ["a", "b", "c", "b"]
    assert value("huge", 99) == "huge", "one value is kept however large it is"
    recent.forget("huge")
    assert recent.used == 0


def test_of_one_thing_a_few_versions_are_kept_however_many_edits_there_are():
    recent, made = BoundedCache(bytes_at_most=10**9), []

    def value(key):
        return recent.get(key, lambda: made.append(key) or key, lambda _: 1, "laying F1")

    for number in range(50):
        value(f"turn {number}")
    value("turn 49"), value("turn 48"), value("turn 47")
    assert len(made) == 50 and recent.used == 3
    value("turn 46")
    assert len(made) == 51 and recent.used == 3


def picture(face_finish, st=None, color=(0.9, 0.1, 0.1)):
    swatch = encode(np.full((8, 8, 3), color))
    st = np.zeros((SURFACE.mesh.corner_count, 2)) if st is None else st
    data = draw(SURFACE, np.array(face_finish), st, [swatch], [(900.0, 600.0)], (120, 80))
    return np.asarray(PIL.Image.open(BytesIO(data)).convert("RGB")).astype(int)


def test_the_picture_shows_the_model_on_paper_with_its_finishes():
    bare = picture([BARE] * 6)
    assert bare.shape == (80, 120, 3)
    np.testing.assert_allclose(bare[2, 2], PAPER * 255, atol=6)
    middle = bare[40, 60]
    assert np.ptp(middle) < 30, "bare faces are grey"
    red = picture([0] * 6)[40, 60]
    assert red[0] > 3 * red[1]


def test_faces_in_front_hide_those_behind():
    # Front (-y), left (-x) and top (+z) are seen; a finish on the other three does not show.
    hidden = picture([0, BARE, BARE, 0, 0, BARE])
    red = (hidden[..., 0] > hidden[..., 1] + 60).sum()
    assert red < 40, "only a line of pixels at the rim at most"


@pytest.mark.parametrize("kept", ["layings", "solutions", "grounds", "covers", "held", "sheets"])
def test_there_is_room_for_what_is_computed_of_a_million_triangles(kept):
    """Two numbers of eight bytes for each of its three million corners, or else it would be computed each time."""
    assert Computing()._kept[kept].bytes_at_most >= 3_000_000 * 2 * 8


@pytest.mark.parametrize("count", [1, 30_000])
def test_a_picture_of_large_faces_over_each_other_is_drawn_coarser(count):
    """A thousand of them took a second and more of the server's time, whoever else waited."""
    corners = np.array([[0.0, 0, 0], [1000, 0, 0], [1000, 1000, 0], [0, 1000, 0]])
    points = (corners[None] + np.arange(count)[:, None, None] * (0, 0, 1e-3)).reshape(-1, 3)
    surface = Surface(mesh_of(points, np.arange(4 * count).reshape(-1, 4).tolist()))
    xyz, low, high = in_view(surface)
    size = affordable(surface, xyz, pixels_a_mm(low, high, (960, 640)), (960, 640))
    assert size == (960, 640) if count == 1 else 10 < size[0] < 400
    data = draw(surface, np.full(count, BARE, np.int32), np.zeros((4 * count, 2)), [], [])
    picture = np.asarray(PIL.Image.open(BytesIO(data)), float)
    assert picture.shape == (320, 480, 3)
    assert np.abs(picture[160, 240] - PAPER * 255).max() > 20, "the faces, and not the paper"
