"""Unpacked images are kept as far as they fit, however large each is."""

import weakref

import numpy as np

from pivrel.materials import textures
from pivrel.materials.images import encode


def test_what_is_kept_of_unpacked_images_is_bounded_by_bytes():
    kept = []
    for k in range(20):
        values = textures.textures_of({"base_color": encode(np.full((1024, 1024), k / 20))}, 0.0).base_color
        kept.append(weakref.ref(values.base))
        del values
    alive = sum(values.nbytes for ref in kept if (values := ref()) is not None)
    assert 150 << 20 < alive <= 192 << 20
