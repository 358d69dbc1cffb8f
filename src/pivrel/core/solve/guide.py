"""A guide: a surface with a laying, through which other faces are laid."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_array
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints, distinct
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.topology import weld_tolerance
from pivrel.core.kernels import kernel
from pivrel.core.solve.joining import divided, opposite_corners, paired
from pivrel.core.solve.nearest import closest_on_triangle
from pivrel.core.solve.region import has_plane, only_solid

TORN_MM = 1e-3
"""Where the two sides of an edge lie farther apart on the sheet, the guide is torn there."""

SMOOTH = np.cos(np.radians(20.0))
"""Beyond a sharper turn than this a guide does not bend on past its border."""

WIDER = 3
"""How often one looks further in from the border for normals that do not lie in a row."""

NEARBY = 8
"""Samples of the guide that the closest triangle is looked for among."""

SAMPLES = 400_000
CROSSED = 1.0
"""Where the averaged normals move a place's shares by more than this, they have crossed before they reach it."""

WALK = 400
"""Triangles that are passed on the way to a corner, at most."""


@dataclass(frozen=True)
class Guide:
    """Triangles of a guide with their laying.

    points: (T, 3, 3) mm. normals: (T, 3, 3) unit, averaged where triangles meet. st: (T, 3, 2) mm. beside: (T, 3) the
    triangle across each edge, -1 at a border and where the laying is torn.
    """

    points: Floats
    normals: Floats
    st: Floats
    beside: Ints

    def at(self, centres: Floats, corners: Floats, rows: Ints, smooth: bool) -> Floats:
        """(N, 2) mm: where corners (N, 3) of faces lie; the corners of face k are rows[k] to rows[k + 1].

        centres: (K, 3) the faces' middles. smooth: a place of the guide is seen along its averaged normals; else the closest
        place counts. All corners of a face go by what its middle lies on, past the border along its own plane.
        """
        start = self._closest(centres)
        return _draped(self.points, self.normals, self.st, self.beside, centres, corners, rows, start, smooth)

    def _closest(self, places: Floats) -> Ints:
        """(K,) the triangle closest to each place."""
        sample, triangle = self._samples()
        count = min(NEARBY, len(sample))
        _, near = cKDTree(sample).query(places, k=count)
        return _closest_of(places, self.points, triangle[np.asarray(near).reshape(len(places), count)])

    def _samples(self) -> tuple[Floats, Ints]:
        """(S, 3) places spread over the triangles, closer together than they are wide, and the triangle of each."""
        a, b, c = self.points[:, 0], self.points[:, 1], self.points[:, 2]
        twice = np.linalg.norm(np.cross(b - a, c - a), axis=1)
        side = np.max([np.linalg.norm(q - p, axis=1) for p, q in ((a, b), (b, c), (c, a))], axis=0)
        wide = np.maximum(twice / np.maximum(side, 1e-300), side / 64)
        count = np.clip(np.ceil(side / np.maximum(wide, 1e-300)), 1, 64).astype(np.int64)
        if count.sum() > SAMPLES:
            count = np.maximum(1, count * SAMPLES // int(count.sum()))
        triangle = np.repeat(np.arange(len(self.points)), count)
        first = np.repeat(np.cumsum(count) - count, count)
        share = ((np.arange(len(triangle)) - first) + 0.5) / count[triangle]
        # Along the longest side, half way in to the corner opposite.
        lengths = np.stack([np.linalg.norm(q - p, axis=1) for p, q in ((a, b), (b, c), (c, a))], axis=1)
        longest = np.argmax(lengths, axis=1)
        row = np.arange(len(self.points))
        p, q, r = (self.points[row, (longest + k) % 3] for k in range(3))
        along = p[triangle] + share[:, None] * (q - p)[triangle]
        return along + (r[triangle] - along) / 3, triangle


def guide_of(surface: Surface, faces: Ints, st: Floats) -> Guide:
    """The guide that some faces (int32 ids) make. st: (C, 2) mm by corner id of the surface."""
    own = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    corners = surface.triangles[own]
    places = surface.topology.place[surface.mesh.corners[corners]]
    points = surface.mesh.points
    solid = has_plane(points, places)
    soup = divided(places[solid], corners[solid], points, 2 * weld_tolerance(points))
    soup = only_solid(soup, points)
    laid = _laid_pieces(surface, soup.places, soup.corners, corners[solid][soup.source], st)
    at = points[soup.places]
    pairs, border = paired(soup.places)
    return Guide(
        at,
        _averaged(soup.places, at, border),
        laid,
        _beside(soup.places, laid, pairs),
    )


def _laid_pieces(surface: Surface, places: Ints, corners: Ints, whole: Ints, st: Floats) -> Floats:
    """(T, 3, 2) mm of each corner of the pieces; those put on an edge lie on the line between its ends."""
    out = st[np.maximum(corners, 0)]
    for t, k in zip(*np.nonzero(corners < 0), strict=True):
        a, b, c = (surface.mesh.points[surface.mesh.corners[whole[t]]][j] for j in range(3))
        share = closest_on_triangle(surface.mesh.points[places[t, k]], a, b, c)
        out[t, k] = np.asarray(share) @ st[whole[t]]
    return out


def _averaged(places: Ints, points: Floats, border: Ints) -> Floats:
    """(T, 3, 3) unit normals at corners: the sum of those of the triangles at the same place, by their angle there.

    points: (T, 3, 3) mm. border: half-edges that meet no other; the surface bends on there as it does up to there.
    G. Thürmer and C. Wüthrich, "Computing vertex normals from polygonal facets", Journal of Graphics Tools 3(1), 1998.
    """
    ahead, back = points[:, [1, 2, 0]] - points, points[:, [2, 0, 1]] - points
    across = np.cross(ahead, back)
    size = np.linalg.norm(across, axis=2)
    angle = np.arctan2(size, np.einsum("tkc,tkc->tk", ahead, back))
    own = across / size[:, :, None]
    count = int(places.max(initial=0)) + 1
    total = np.zeros((count, 3))
    np.add.at(total, places.reshape(-1), (own * angle[:, :, None]).reshape(-1, 3))
    total /= np.maximum(np.linalg.norm(total, axis=1), 1e-300)[:, None]
    _bend_on(total, places, points, border)
    out: Floats = total[places]
    # Two sheets that lie back to back at a place cancel out: there each keeps its own.
    weak = np.einsum("tkc,tkc->tk", out, own) <= 0
    out[weak] = own[weak]
    return out


def _bend_on(normals: Floats, places: Ints, points: Floats, border: Ints) -> None:
    """Of the places at the border the normals (P, 3) that those further in lead to, straight on; changes normals.

    Only one side of the surface is known there. Beyond a crease, or where too little lies further in, nothing changes.
    """
    count = len(normals)
    at = np.zeros((count, 3))
    at[places.reshape(-1)] = points.reshape(-1, 3)
    ends = distinct(places.reshape(-1)[np.concatenate([border, border - border % 3 + (border + 1) % 3])])
    inner = np.ones(count, bool)
    inner[ends] = False
    pair = np.concatenate([places[:, [0, 1]], places[:, [1, 2]], places[:, [2, 0]]])
    beside = csr_array((np.ones(len(pair)), pair.T), (count, count))
    beside = csr_array(beside + beside.T)
    found = normals[ends].copy()
    reach, left = beside[ends] + beside[ends] @ beside, np.arange(len(ends))
    for _ in range(WIDER):
        reach = csr_array(reach)
        missed = []
        for row, at_row in enumerate(left.tolist()):
            near = reach.indices[reach.indptr[row] : reach.indptr[row + 1]]
            led = _led_to(
                at[ends[at_row]], normals[ends[at_row]], at[near[inner[near]]], normals[near[inner[near]]]
            )
            if led is None:
                missed.append(row)
            elif led @ normals[ends[at_row]] > SMOOTH:
                found[at_row] = led
        left, reach = left[missed], reach[missed] @ beside
    normals[ends] = found


def _led_to(place: Floats, normal: Floats, near: Floats, known: Floats) -> Floats | None:
    """(3,) the unit normal at a place that those (N, 3) known at places near it lead to; None where they lie in a row."""
    off = near - place
    off -= np.outer(off @ normal, normal)
    if len(near) < 3:
        return None
    basis = np.linalg.svd(off, full_matrices=False)[2][:2]
    flat = off @ basis.T / max(float(np.abs(off).max()), 1e-300)
    led, _, rank, _ = np.linalg.lstsq(np.column_stack([np.ones(len(near)), flat]), known, rcond=1e-3)
    out: Floats = led[0] / max(float(np.linalg.norm(led[0])), 1e-300)
    return out if rank == 3 else None


def _beside(places: Ints, st: Floats, pairs: Ints) -> Ints:
    """(T, 3) the triangle across each edge, -1 where there is none or the laying is torn."""
    out = np.full(places.size, -1)
    flat_st = st.reshape(-1, 2)
    a, b, at_a, at_b = opposite_corners(places, pairs)
    gap = np.abs(flat_st[[a, b]] - flat_st[[at_a, at_b]]).max(axis=(0, 2))
    one, other = pairs.T
    whole = gap <= TORN_MM
    out[one[whole]], out[other[whole]] = other[whole] // 3, one[whole] // 3
    return out.reshape(-1, 3)


@kernel
def _closest_of(places: Floats, points: Floats, near: Ints) -> Ints:
    """(K,) of the triangles near each place, (K, M), the closest."""
    out = np.empty(len(places), np.int64)
    for k in range(len(places)):
        best = np.inf
        for t in near[k]:
            u, v, w = closest_on_triangle(places[k], points[t, 0], points[t, 1], points[t, 2])
            gap = u * points[t, 0] + v * points[t, 1] + w * points[t, 2] - places[k]
            away = gap @ gap
            if away < best:
                best, out[k] = away, t
    return out


@kernel
def _draped(
    points: Floats,
    normals: Floats,
    st: Floats,
    beside: Ints,
    centres: Floats,
    corners: Floats,
    rows: Ints,
    start: Ints,
    smooth: bool,
) -> Floats:
    out = np.empty((len(corners), 2))
    for k in range(len(centres)):
        middle, _ = _walked(points, normals, beside, start[k], centres[k], smooth)
        for c in range(rows[k], rows[k + 1]):
            triangle, share = _walked(points, normals, beside, middle, corners[c], smooth)
            for way in range(2):
                out[c, way] = (
                    share[0] * st[triangle, 0, way]
                    + share[1] * st[triangle, 1, way]
                    + share[2] * st[triangle, 2, way]
                )
    return out


@kernel
def _walked(
    points: Floats, normals: Floats, beside: Ints, triangle: int, place: Floats, smooth: bool
) -> tuple[int, Floats]:
    """The triangle on which a place lies, from another on, and the shares of its corners there.

    From triangle to triangle across the edge that the place lies farthest beyond; at a border it stops, and the shares go on
    beyond the triangle.
    """
    before, outside = -1, -np.inf
    kept = _flat(points[triangle], place)
    for _ in range(WALK):
        share = (
            _along_normals(points[triangle], normals[triangle], place)
            if smooth
            else _flat(points[triangle], place)
        )
        least = int(np.argmin(share))
        if share[least] >= -1e-9:
            return triangle, share
        # The edge opposite the corner with the smallest share.
        following = beside[triangle, (least + 1) % 3]
        if following < 0:
            following = _other_way(beside[triangle], share, least)
        if following < 0:
            return triangle, _flat(points[triangle], place)
        if following == before:
            # The place lies on the fold between two triangles: on the one that it is less far outside of.
            return (triangle, share) if share[least] >= outside else (before, kept)
        before, outside, kept = triangle, share[least], share
        triangle = following
    return triangle, _flat(points[triangle], place)


@kernel
def _other_way(beside: Ints, share: Floats, least: int) -> int:
    """Another triangle beyond an edge that the place lies outside of, -1 where there is none."""
    for k in range(3):
        if k != least and share[k] < -1e-9 and beside[(k + 1) % 3] >= 0:
            return int(beside[(k + 1) % 3])
    return -1


@kernel
def _flat(three: Floats, place: Floats) -> Floats:
    """(3,) the shares of a triangle's corners at a place pushed straight onto its plane."""
    u, v, p = three[1] - three[0], three[2] - three[0], place - three[0]
    # By the plane's normal: the squares of long sides have no digits left for how far they are apart.
    n = np.cross(u, v)
    size = n @ n
    if not size > 0.0:
        return np.full(3, 1 / 3)
    b, c = np.cross(p, v) @ n / size, np.cross(u, p) @ n / size
    return np.array([1 - b - c, b, c])


@kernel
def _along_normals(three: Floats, normals: Floats, place: Floats) -> Floats:
    """(3,) the shares at which place = X + h N(X), X and N between the corners; by Newton's method from the flat place."""
    share = _flat(three, place)
    b, c = share[1], share[2]
    u, v = three[1] - three[0], three[2] - three[0]
    nu, nv = normals[1] - normals[0], normals[2] - normals[0]
    n = normals[0] + b * nu + c * nv
    h = (place - three[0] - b * u - c * v) @ n / max(n @ n, 1e-300)
    for _ in range(12):
        n = normals[0] + b * nu + c * nv
        off = three[0] + b * u + c * v + h * n - place
        p, q = u + h * nu, v + h * nv
        det = p @ np.cross(q, n)
        if abs(det) < 1e-12 * np.sqrt((p @ p) * (q @ q) * (n @ n)):
            return share
        db, dc, dh = off @ np.cross(q, n) / det, p @ np.cross(off, n) / det, p @ np.cross(q, off) / det
        b, c, h = b - db, c - dc, h - dh
        if abs(db) + abs(dc) < 1e-12:
            break
    found = np.array([1 - b - c, b, c])
    # Where the normals cross before they reach the place, the flat place is the better answer.
    return found if np.abs(found - share).max() < CROSSED else share
