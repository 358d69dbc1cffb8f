"""Many questions at once about a project that changes: all of them are answered."""

import threading
from concurrent.futures import ThreadPoolExecutor, wait

from pivrel.web.app import create_app
from tests.conftest import make_cube

ROUNDS = 25
ANSWERED_WITHIN_S = 120


def test_nobody_waits_in_a_circle(cube, database):
    cube.edit(kind="lay", material="oak", pick={"all": True}, projection={"kind": "box"})
    cube.edit(kind="lay", material="brick", pick={"faces": [0]}, projection={"kind": "planar"})
    cube.edit(kind="tile", finishes=["F2"], tile=False)
    asked = [
        "",
        "/laying/F1",
        "/laying/F2",
        "/looks/seams",
        "/looks/stretch",
        "/looks/grain",
        "/datum/F1",
        "/cover",
    ]
    pool = ThreadPoolExecutor(len(asked))
    for _ in range(ROUNDS):
        # A server that has just begun has made nothing yet.
        app = create_app(database)
        together = threading.Barrier(len(asked))

        def ask(address, app=app, together=together):
            client = app.test_client()
            together.wait()
            return client.get(cube.path + address).status_code

        done, late = wait([pool.submit(ask, address) for address in asked], ANSWERED_WITHIN_S)
        assert not late, "they wait for each other"
        assert {answer.result() for answer in done} <= {200, 409}
    pool.shutdown()


def test_two_projects_do_not_wait_for_each_other(database):
    with database.transaction() as db:
        one, other = make_cube(db), make_cube(db)
    app = create_app(database)
    lay = {"kind": "lay", "material": "brick", "pick": {"all": True}, "projection": {"kind": "box"}}

    def edit():
        asked = {"revision": 0, "edit": lay}
        return app.test_client().post(f"/api/projects/{one}/edits?changes", json=asked).status_code

    pool = ThreadPoolExecutor(1)
    with app.extensions["pivrel"].computing.of(other).short:
        assert pool.submit(edit).result(ANSWERED_WITHIN_S) == 200
    pool.shutdown()
