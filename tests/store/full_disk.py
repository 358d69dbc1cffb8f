"""What a full disk lets a data folder do: `python -m tests.store.full_disk FOLDER`, on a small disk of its own.

Prints one JSON object: what was told of an edit, and bytes that were free before and after a project was deleted.
"""

import json
import shutil
import sys
from pathlib import Path

import numpy as np

from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.errors import FullError
from pivrel.web.app import create_app
from tests.conftest import Asking, facts_of, make_cube
from tests.shapes import cuboid


def main() -> None:
    """Fills the disk, and makes room by deleting."""
    folder = Path(sys.argv[1])
    database = Database(folder)
    database.reserve.keep()
    noise = np.random.default_rng(1).integers(0, 255, 20 << 20, np.uint8).tobytes()
    with database.transaction(ahead=[blobs.Blob.of(noise)]) as db:
        file = blobs.put_original(db, "large.obj", noise)
        large = projects.create(
            db, "large", blobs.put_mesh(db, cuboid()), facts_of("large.obj", files=[file])
        )
        make_cube(db)
    client = create_app(database).test_client()
    cube = Asking(client, 2)
    with (folder / "filler").open("wb") as out:
        try:
            while True:
                out.write(bytes(1 << 16))
                out.flush()
        except OSError:
            pass
    refused = client.patch(cube.path, json={"name": "new"})
    try:
        with database.transaction() as db:
            blobs.put_original(db, "more", noise[::-1])
        told = ""
    except FullError as error:
        told = str(error)
    full = shutil.disk_usage(folder).free
    deleted = client.delete(f"/api/projects/{large}")
    freed = shutil.disk_usage(folder).free
    again = client.patch(cube.path, json={"name": "again"})
    names = [project["name"] for project in client.get("/api/projects").json]
    print(
        json.dumps({
            "refused": refused.status_code, "said": (refused.json or {}).get("error", ""), "told": told, "full": full,
            "deleted": deleted.status_code, "freed": freed, "again": again.status_code, "names": names,
        })
    )  # fmt: skip


if __name__ == "__main__":
    main()
