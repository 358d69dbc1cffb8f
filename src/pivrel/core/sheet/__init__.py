"""The endless sheet of a material, and what happens to it between the raw laying and the final one."""

from pivrel.core.sheet.material import Joints, Material
from pivrel.core.sheet.placement import Placement, turn_for_grain

__all__ = ["Joints", "Material", "Placement", "turn_for_grain"]
