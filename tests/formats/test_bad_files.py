"""Files that break give one clear sentence, whatever is wrong with them."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from pivrel.formats.bundle import Folder, FormatError, Upload, safe_relative
from pivrel.formats.reading import read_model
from tests.formats.bad import BAD, GOOD_OBJ, glb, gltf, triangle


@pytest.mark.parametrize("case", BAD)
def test_one_sentence_that_says_what(case):
    files, word = BAD[case]
    name = next(iter(files))
    with pytest.raises(FormatError) as error:
        read_model(name, files[name], Upload(files))
    assert word in str(error.value)
    assert "\n" not in str(error.value)


@settings(max_examples=150, deadline=None)
@given(st.data())
def test_cut_and_flipped_bytes_never_crash(data):
    name, good = data.draw(
        st.sampled_from([("a.obj", GOOD_OBJ * 3), ("a.glb", glb(triangle())), ("a.gltf", gltf())])
    )
    broken = bytearray(good[: data.draw(st.integers(0, len(good)))])
    for at in data.draw(st.lists(st.integers(0, max(len(broken) - 1, 0)), max_size=4)):
        if broken:
            broken[at % len(broken)] = data.draw(st.integers(0, 255))
    try:
        mesh = read_model(name, bytes(broken), Upload({})).mesh
        assert mesh.face_count > 0
    except FormatError as error:
        assert str(error)


@pytest.mark.parametrize("name", ["/etc/passwd", "../a", "a/../../b", "C:\\a", "..\\a", "a\0b"])
def test_unsafe_names(name, tmp_path):
    with pytest.raises(FormatError):
        safe_relative(name)
    with pytest.raises(FormatError):
        Folder(tmp_path).read(name)


def test_a_link_does_not_lead_out_of_the_folder(tmp_path):
    (tmp_path / "out.txt").write_text("secret")
    (tmp_path / "in").mkdir()
    (tmp_path / "in" / "link").symlink_to(tmp_path / "out.txt")
    with pytest.raises(FormatError):
        Folder(tmp_path / "in").read("link")


def test_a_missing_mtl_is_found_but_does_not_stop():
    imported = read_model("a.obj", b"mtllib gone.mtl\n" + GOOD_OBJ, Upload({}))
    assert any("gone.mtl" in line for line in imported.found)
