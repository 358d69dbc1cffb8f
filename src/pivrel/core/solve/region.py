"""A region: the faces of a pick that hang together, as triangles over shared vertices."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from scipy.sparse import csr_array
from scipy.sparse.csgraph import connected_components

from pivrel.core.arrays import Floats, Ints, Mask, distinct
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.topology import weld_tolerance
from pivrel.core.geometry.union_find import join, numbered
from pivrel.core.kernels import kernel
from pivrel.core.solve.joining import AFTER, Soup, divided, opposite_corners, paired
from pivrel.core.solve.kept import Kept

FLAT = 1e-10
"""A triangle of less height than this share of its longest side has no plane of its own."""


@dataclass(frozen=True)
class Region:
    """Faces that join over edges which exactly two of them share; every triangle winds the same way.

    A slot is 3 t + k, corner k of triangle t, and names the half-edge from there to the triangle's next corner.

    faces: (K,) int32, ascending. points: (V, 3) mm. triangles: (T, 3) int32 into points, wound so that most of the
    area looks to its own outside. corners: (T, 3) int32 corner ids of the mesh, -1 where none. triangle_face: (T,).
    within: (D, 3) slots of vertices that lie on an edge, and of the edge's two ends; share: (D,) of the way from one
    to the other. one_sided: it has no two sides, as a band with a half twist.
    """

    faces: Ints
    points: Floats
    triangles: Ints
    corners: Ints
    triangle_face: Ints
    within: Ints
    share: Floats
    one_sided: bool = False

    @cached_property
    def _paired(self) -> tuple[Ints, Ints]:
        return paired(self.triangles)

    @cached_property
    def named(self) -> tuple[Ints, Ints]:
        """Corner ids of the mesh, ascending, and the vertex that lies at each."""
        corners, first = np.unique(self.corners.reshape(-1), return_index=True)
        has = corners >= 0
        return corners[has], self.triangles.reshape(-1)[first[has]]

    @cached_property
    def middles(self) -> tuple[Floats, Floats]:
        """(T, 3) mm of the triangles' middles, and (T,) how far their corners are from there at most."""
        corners = self.points[self.triangles]
        middle = corners.mean(axis=1)
        return middle, np.linalg.norm(corners - middle[:, None], axis=2).max(axis=1)

    @cached_property
    def kept(self) -> Kept:
        """What was found of it before."""
        return Kept(len(self.triangles))

    @property
    def pairs(self) -> Ints:
        """(E, 2) half-edges that meet."""
        return self._paired[0]

    @property
    def border(self) -> Ints:
        """(O,) half-edges that meet no other."""
        return self._paired[1]

    @cached_property
    def ends(self) -> tuple[Ints, Ints]:
        """(3T,) the vertices where every half-edge starts and ends."""
        return self.triangles.reshape(-1), self.triangles[:, AFTER].reshape(-1)

    @cached_property
    def lengths(self) -> Floats:
        """(3T,) mm, of every half-edge."""
        start, end = self.ends
        out: Floats = np.linalg.norm(self.points[end] - self.points[start], axis=1)
        return out

    @cached_property
    def areas(self) -> Floats:
        """(T,) mm²."""
        a, b, c = (self.points[self.triangles[:, k]] for k in range(3))
        out: Floats = np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2
        return out

    @cached_property
    def plane_xy(self) -> Floats:
        """(T, 3, 2) mm: each triangle in its own plane, its first corner at the origin, the next along x."""
        a, b, c = (self.points[self.triangles[:, k]] for k in range(3))
        along = self.lengths.reshape(-1, 3)[:, 0]
        out = np.zeros((len(self.triangles), 3, 2))
        out[:, 1, 0] = along
        out[:, 2, 0] = np.einsum("ij,ij->i", c - a, b - a) / along
        out[:, 2, 1] = 2 * self.areas / along
        return out

    @cached_property
    def gradients(self) -> Floats:
        """(T, 3, 2) 1/mm: of the hat function of each corner, in the triangle's own plane."""
        xy = self.plane_xy
        opposite = xy[:, [2, 0, 1]] - xy[:, [1, 2, 0]]
        out: Floats = np.stack([-opposite[:, :, 1], opposite[:, :, 0]], axis=2)
        return out / (2 * self.areas)[:, None, None]

    @property
    def edge_vertices(self) -> Ints:
        """(D, 3) vertices that lie on an edge, and the edge's two ends."""
        return self.triangles.reshape(-1)[self.within].reshape(-1, 3).astype(np.int64)

    @cached_property
    def partner(self) -> Ints:
        """(3T,) the half-edge that each one meets, -1 where none."""
        out = np.full(3 * len(self.triangles), -1)
        out[self.pairs[:, 0]], out[self.pairs[:, 1]] = self.pairs[:, 1], self.pairs[:, 0]
        return out

    def opened(self, halves: Ints) -> tuple[Region, Ints]:
        """The region cut open along these half-edges and their partners, and (V',) the vertex that each was."""
        shut = np.zeros(3 * len(self.triangles), bool)
        shut[halves] = True
        kept = self.pairs[~(shut[self.pairs[:, 0]] | shut[self.pairs[:, 1]])]
        vertex, first = _vertices(self.triangles, kept)
        was = self.triangles.reshape(-1)[first]
        return replace(self, points=self.points[was], triangles=vertex), was


def find_regions(surface: Surface, faces: Ints, within: Ints | None = None) -> list[Region]:
    """The regions of a pick (int32 face ids, ascending), largest number of faces first.

    Faces without area belong to none. within: (F,) numbers; faces of different ones do not join.
    """
    own = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    corners = surface.triangles[own]
    points, place = surface.mesh.points, surface.topology.place
    places = place[surface.mesh.corners[corners]]
    solid = has_plane(points, places)
    tolerance = 2 * weld_tolerance(points)
    soup = divided(places[solid], corners[solid], points, tolerance)
    soup = only_solid(soup, points)
    if not len(soup.places):
        return []
    face = surface.triangle_face[own][solid][soup.source]
    label = None if within is None else within[face]
    pairs = _joining(soup.places, label)
    component, odd = _wound(soup.places, pairs)
    count = int(component.max()) + 1
    areas = surface.triangle_areas[own][solid][soup.source]
    outside = np.bincount(component, areas * ~odd, count) >= np.bincount(component, areas * odd, count)
    turned = odd == outside[component]
    twisted = np.zeros(count, bool)
    twisted[component[pairs[:, 0] // 3][~_consistent(soup.places, pairs, odd)]] = True
    order = np.argsort(component, kind="stable")
    bounds = np.searchsorted(component[order], np.arange(count + 1))
    on_edge = _edge_slots(soup)
    out = [
        _region(
            soup, points, face, turned, label, on_edge, order[bounds[k] : bounds[k + 1]], bool(twisted[k])
        )
        for k in range(count)
    ]
    return sorted(out, key=lambda region: -len(region.faces))


def has_plane(points: Floats, places: Ints) -> Mask:
    """(T,) whether triangles, by the places of their corners, are more than a line."""
    a, b, c = (points[places[:, k]] for k in range(3))
    twice = np.linalg.norm(np.cross(b - a, c - a), axis=1)
    longest = np.max([((p - q) ** 2).sum(axis=1) for p, q in ((a, b), (b, c), (c, a))], axis=0)
    out: Mask = twice > FLAT * longest
    return out


def only_solid(soup: Soup, points: Floats) -> Soup:
    """The soup without pieces that have no area; what lies on their edges is kept."""
    solid = has_plane(points, soup.places)
    return replace(soup, places=soup.places[solid], corners=soup.corners[solid], source=soup.source[solid])


def _joining(places: Ints, label: Ints | None) -> Ints:
    """(E, 2) half-edges that meet, of triangles with the same label (T,)."""
    pairs, _ = paired(places)
    return pairs if label is None else pairs[label[pairs[:, 0] // 3] == label[pairs[:, 1] // 3]]


def _wound(places: Ints, pairs: Ints) -> tuple[Ints, Mask]:
    """(T,) the component of each triangle, and whether it winds against the component's first."""
    return _joined(pairs // 3, _opposed(places, pairs), len(places))


@kernel
def _joined(pairs: Ints, opposed: Mask, count: int) -> tuple[Ints, Mask]:
    parent, odd = np.arange(count).astype(np.int32), np.zeros(count, np.bool_)
    for e in range(len(pairs)):
        join(parent, odd, pairs[e, 0], pairs[e, 1], opposed[e])
    return numbered(parent, odd)


def _opposed(places: Ints, pairs: Ints) -> Mask:
    """(E,) whether two half-edges run along their edge in opposite senses."""
    start = places.reshape(-1)
    out: Mask = start[pairs[:, 0]] != start[pairs[:, 1]]
    return out


def _consistent(places: Ints, pairs: Ints, odd: Mask) -> Mask:
    """(E,) whether two triangles that meet look to the same side once each is turned as it says."""
    out: Mask = (odd[pairs[:, 0] // 3] == odd[pairs[:, 1] // 3]) == _opposed(places, pairs)
    return out


def _region(
    soup: Soup,
    points: Floats,
    face: Ints,
    turned: Mask,
    label: Ints | None,
    within: Ints,
    own: Ints,
    one_sided: bool,
) -> Region:
    """The region of some triangles (rows of the soup, ascending)."""
    swap = np.where(turned[own][:, None], np.array([0, 2, 1]), np.array([0, 1, 2]))
    places = np.take_along_axis(soup.places[own], swap, axis=1)
    corners = np.take_along_axis(soup.corners[own], swap, axis=1)
    pairs = _joining(places, None if label is None else label[own])
    if one_sided:
        pairs = pairs[_opposed(places, pairs)]
    vertex, first = _vertices(places, pairs)
    local = np.full(3 * len(soup.places), -1)
    local[(3 * own[:, None] + swap).reshape(-1)] = np.arange(3 * len(own))
    mine = ((within >= 0) & (local[within] >= 0)).all(axis=1)
    return Region(
        faces=distinct(face[own]).astype(np.int32),
        points=points[places.reshape(-1)[first]],
        triangles=vertex,
        corners=corners,
        triangle_face=face[own],
        within=local[within[mine]].reshape(-1, 3),
        share=soup.share[mine],
        one_sided=one_sided,
    )


def _vertices(places: Ints, pairs: Ints) -> tuple[Ints, Ints]:
    """(T, 3) vertices, numbered from 0, and (V,) a slot of each. Corners are one where their triangles meet."""
    count = places.size
    a, b, at_a, at_b = opposite_corners(places, pairs)
    joined = np.concatenate([a, b]), np.concatenate([at_a, at_b])
    graph = csr_array((np.ones(len(joined[0]), np.int8), joined), (count, count))
    total, vertex = connected_components(graph, directed=False)
    first = np.empty(total, np.int64)
    first[vertex[::-1]] = np.arange(count)[::-1]
    return vertex.reshape(-1, 3).astype(np.int32), first


def _edge_slots(soup: Soup) -> Ints:
    """(D, 3) slots of each place on an edge and of the edge's ends, in pieces of the triangle that was divided."""
    if not len(soup.on_edge):
        return np.empty((0, 3), np.int64)
    slots = {}
    for row in np.flatnonzero(np.isin(soup.source, soup.on_edge[:, 0])).tolist():
        for k, place in enumerate(soup.places[row].tolist()):
            slots[int(soup.source[row]), place] = 3 * row + k
    out = [
        [slots.get((triangle, place), -1) for place in places] for triangle, *places in soup.on_edge.tolist()
    ]
    return np.array(out)
