"""What a project keeps of a model beside its mesh."""

from __future__ import annotations

import numpy as np

from pivrel.formats.imported import Imported
from pivrel.store.documents import ModelFacts


def model_facts(imported: Imported, file: str) -> ModelFacts:
    """What a project keeps of its model beside the mesh, but for the original files."""
    return ModelFacts.model_validate(
        {
            "file": file,
            "unit": imported.unit,
            "up": imported.up,
            "found": list(imported.found),
            "parts": len(imported.mesh.part_names),
            "triangles": int((np.diff(imported.mesh.face_start) - 2).sum()),
            "tolerance_mm": imported.tolerance_mm,
        }
    )
