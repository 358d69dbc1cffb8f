"""How often an edit reads and checks the documents that it touches."""

from pivrel.recipe import FinishModel


def counted_checks(monkeypatch):
    """Notes every check of a finish, stored or edited: all of them go through the model's own door."""
    checks = []
    own = FinishModel.model_validate

    def model_validate(*given, **more):
        checks.append(given[0])
        return own(*given, **more)

    monkeypatch.setattr(FinishModel, "model_validate", model_validate)
    return checks


def test_a_typed_turn_is_one_read_and_one_check_of_what_it_touches(cube, database, monkeypatch):
    for face in range(4):
        cube.lay({"faces": [face]})
    cube.change(["F2"], turn_deg=10)
    checks = counted_checks(monkeypatch)
    reads = []
    connection = database._connection()
    connection.set_trace_callback(lambda sql: reads.append(sql) if " FROM document WHERE" in sql else None)
    try:
        state = cube.change(["F2"], turn_deg="450/2")
    finally:
        connection.set_trace_callback(None)
    assert state["finishes"][1]["turn_deg"] == 225
    # One SELECT brings every document of the project, F2 among them; nothing is read again after the write.
    assert len(reads) == 1, reads
    # F2 is checked once, with its new turn; the other three not at all.
    assert len(checks) == 1 and checks[0]["turn_deg"] == 225, checks


def test_a_page_that_asks_again_reads_without_checking(cube, monkeypatch):
    cube.lay({"all": True})
    cube.client.get(cube.path)
    checks = counted_checks(monkeypatch)
    cube.client.get(cube.path)
    assert checks == []
