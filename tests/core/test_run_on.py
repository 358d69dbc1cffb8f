"""Running on across edges, held to brute force on small bodies."""

import itertools

import numpy as np
import pytest

from pivrel.core.geometry.edge_pairs import exposure
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import grounds, lay, settle, settle_pieces
from pivrel.core.laying.face_sheets import before_run_on, running_on
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.figures import seams_of
from pivrel.core.picks import All, Parts, as_faces, resolve
from pivrel.core.projection import Box, Cylindrical
from pivrel.core.sheet import Material
from pivrel.core.sheet.run_on import spanning
from pivrel.demo import lido, radio
from tests.shapes import column, cuboid

# A repeat that none of the bodies is a multiple of, so that no loop closes by chance.
VEIN = Material("vein", (613.7, 411.3), 0.0)


def prism(outline, height, name="Block"):
    from pivrel.demo.shapes import Assembly
    from pivrel.demo.shapes import prism as add

    to = Assembly()
    add(to, name, outline, 0.0, height)
    return to.mesh()


L_BLOCK = [(0, 0), (900, 0), (900, 300), (400, 300), (400, 700), (0, 700)]


def ran(mesh, pick=None, projection=None, **options):
    surface = Surface(mesh)
    finish = Finish("f", VEIN, pick or All(), projection or Box(), run_on=True, **options)
    faces = as_faces(resolve(finish.pick, surface))
    settled = settle_pieces(surface, finish, faces)
    raw, piece, side = grounds(surface, faces, settled)
    found = running_on(surface, finish, before_run_on(surface, finish, faces, raw, piece, side), raw)
    return surface, finish, faces, found


def matched_m(surface, finish, faces):
    """The length over which the pattern runs on, by the corners' own places on the sheet."""
    settled = settle(surface, finish)
    st = np.full((surface.mesh.corner_count, 2), np.nan)
    st[surface.corners_of(faces)] = lay(surface, finish, faces, settled)
    edge_pairs = surface.edge_pairs
    after, opposed = surface.topology.next_corner, edge_pairs.opposed
    near0, near1 = st[edge_pairs.near], st[after[edge_pairs.near]]
    far = (st[after[edge_pairs.far]], st[edge_pairs.far])
    far0, far1 = np.where(opposed[:, None], far[0], far[1]), np.where(opposed[:, None], far[1], far[0])
    gap = np.stack([near0 - far0, near1 - far1])
    gap -= np.round(gap / VEIN.repeat_mm) * VEIN.repeat_mm
    gap = np.linalg.norm(gap, axis=2).max(axis=0)
    return edge_pairs, gap <= 0.5


def best_tree(links, count):
    """The heaviest spanning tree, by trying every choice of links."""
    best = 0.0
    for tree in itertools.combinations(range(len(links.a)), count - 1):
        root = list(range(count))

        def find(i, root=root):
            while root[i] != i:
                i = root[i]
            return i

        for link in tree:
            a, b = find(links.a[link]), find(links.b[link])
            if a == b:
                break
            root[a] = b
        else:
            best = max(best, float(links.weight[list(tree)].sum()))
    return best


def cannot_be_bettered(found):
    """Whether no link left out is heavier than one on the way that the chosen ones make between its ends."""
    near = {}
    links = found.links
    for k in np.flatnonzero(found.chosen):
        near.setdefault(links.a[k], []).append((links.b[k], links.weight[k]))
        near.setdefault(links.b[k], []).append((links.a[k], links.weight[k]))

    def weakest(start, goal):
        stack = [(start, None, np.inf)]
        while stack:
            here, came, least = stack.pop()
            if here == goal:
                return least
            stack += [(there, here, min(least, w)) for there, w in near[here] if there != came]
        raise AssertionError("not joined")

    return all(
        links.weight[k] <= weakest(links.a[k], links.b[k]) * (1 + 1e-9) for k in np.flatnonzero(~found.chosen)
    )


@pytest.mark.parametrize("mesh", [cuboid(700, 500, 300), prism(L_BLOCK, 260)], ids=["cube", "L-block"])
def test_the_choice_of_edges_is_the_best_there_is(mesh):
    # Off the datum, so that no two sides run on by themselves.
    surface, finish, faces, found = ran(mesh, datum=Datum((-37.0, -53.0, -71.0)))
    count = int(found.island.max()) + 1
    assert count == surface.mesh.face_count
    assert found.links.weight[found.chosen].sum() == pytest.approx(best_tree(found.links, count), rel=1e-9)
    assert found.chosen.sum() == count - 1
    edge_pairs, runs = matched_m(surface, finish, faces)
    shows = exposure(surface.topology, surface.normals, edge_pairs)
    assert (edge_pairs.length_mm * shows)[runs].sum() == pytest.approx(
        found.links.weight[found.chosen].sum(), rel=1e-3
    )
    # What cannot close is reported: the other edges, with their gaps.
    seams = seams_of(surface, finish, faces, settle(surface, finish))
    assert (~seams.matched).sum() == (~runs).sum() == len(edge_pairs.near) - (count - 1)
    assert seams.gap_mm[~seams.matched].min() > 0.5


def test_a_loop_that_is_a_whole_number_of_repeats_closes_by_itself():
    surface = Surface(cuboid(613.7, 613.7, 1900))
    finish = Finish("f", VEIN, Parts(("*",)), Box(), Datum((-37, -53, -71)), run_on=True)
    faces = np.arange(6, dtype=np.int32)
    edge_pairs, runs = matched_m(surface, finish, faces)
    upright = np.abs(edge_pairs.length_mm - 1900) < 1e-6
    assert runs[upright].all(), "all four corners of the ring"


@pytest.fixture(scope="module")
def pavilion():
    return lido.build()


def test_all_visible_edges_of_the_counter_run_on(pavilion):
    surface, finish, faces, found = ran(pavilion, Parts(("Counter top",)))
    edge_pairs, runs = matched_m(surface, finish, faces)
    held = surface.held(faces)[surface.topology.corner_face]
    own = held[edge_pairs.near] & held[edge_pairs.far]
    ends = surface.mesh.points[surface.mesh.corners]
    top = own & (ends[edge_pairs.near][:, 2] == 940) & (
        ends[surface.topology.next_corner[edge_pairs.near]][:, 2] == 940
    )  # fmt: skip
    assert top.sum() == 6
    open_ = top & ~runs
    # The sixth is the 40 mm of the notch at the wall: its face runs on from the 80 mm edge beside it.
    assert edge_pairs.length_mm[open_].tolist() == pytest.approx([40])
    assert cannot_be_bettered(found)


def test_mitred_corners_of_the_radio_run_round_the_outside():
    surface, finish, faces, found = ran(radio.build(), Parts(("Cabinet *",)))
    edge_pairs, runs = matched_m(surface, finish, faces)
    held = surface.held(faces)[surface.topology.corner_face]
    own = held[edge_pairs.near] & held[edge_pairs.far]
    part = surface.mesh.face_part[surface.topology.corner_face]
    # Of the four long outer edges where two boards meet the upper two show, and run on.
    outer = own & (part[edge_pairs.near] != part[edge_pairs.far]) & (edge_pairs.opening > np.pi)
    long = outer & (np.abs(edge_pairs.length_mm - 170) < 1e-6)
    height = surface.mesh.points[surface.mesh.corners[edge_pairs.near]][:, 2]
    assert long.sum() == 4 and runs[long & (height > 100)].all()
    assert cannot_be_bettered(found)
    assert (edge_pairs.opening[own & (part[edge_pairs.near] != part[edge_pairs.far])] < 1e-6).any(), (
        "the glued cuts"
    )
    assert exposure(surface.topology, surface.normals, edge_pairs)[edge_pairs.opening < 1e-6].max() == 0
    again = spanning(found.links, int(found.island.max()) + 1)
    assert (again == found.chosen).all()


def test_a_cap_runs_on_from_a_cylinder_along_one_edge_each():
    surface, finish, faces, found = ran(column(48, 150, 900), projection=Cylindrical())
    assert len(np.unique(found.island)) == 3
    assert found.chosen.sum() == 2
    _, runs = matched_m(surface, finish, faces)
    assert runs.any()


def test_mirrored_backs_are_turned_over_to_run_on():
    mesh = cuboid(700, 500, 300)
    surface = Surface(mesh)
    finish = Finish(
        "f", VEIN, All(), Box(), Datum((-37, -53, -71)), scale=(-1.5, 0.7), run_on=True, turn_deg=31
    )
    faces = np.arange(6, dtype=np.int32)
    _, runs = matched_m(surface, finish, faces)
    assert runs.sum() >= 5
    st = lay(surface, finish, faces, settle(surface, finish)).reshape(6, 4, 2)
    # The sheet is flipped on every face or on none.
    twice = [np.linalg.det(np.stack([f[1] - f[0], f[2] - f[0]])) for f in st]
    assert len({np.sign(t) for t in twice}) == 1


def test_broken_meshes_are_no_trouble():
    base = cuboid(100, 100, 100)
    flat = Mesh(base.points * (1, 1, 0), base.corners, base.face_start, base.face_part, base.part_names)
    surface = Surface(flat)
    finish = Finish("f", VEIN, All(), Box(), Datum(), run_on=True)
    assert np.isfinite(lay(surface, finish, np.arange(6, dtype=np.int32), settle(surface, finish))).all()
