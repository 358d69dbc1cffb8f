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


def test_a_typed_turn_reads_no_document_and_checks_what_it_touches(cube, database, monkeypatch):
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
    # The documents are carried on from what was written last.
    assert reads == []
    # F2 is checked once, with its new turn; the other three not at all.
    assert len(checks) == 1 and checks[0]["turn_deg"] == 225, checks


def test_a_page_that_asks_again_reads_without_checking(cube, monkeypatch):
    cube.lay({"all": True})
    cube.client.get(cube.path)
    checks = counted_checks(monkeypatch)
    cube.client.get(cube.path)
    assert checks == []
