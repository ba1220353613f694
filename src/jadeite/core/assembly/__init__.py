"""The order of making, its steps and its times."""

from jadeite.core.assembly.adhesives import ADHESIVES, Adhesive, adhesive_by_key
from jadeite.core.assembly.lift import Lift, Pose, lift_of
from jadeite.core.assembly.order import Move, making_order
from jadeite.core.assembly.schools import School, schools_of
from jadeite.core.assembly.steps import AssemblyPlan, Step, assembly_plan, batch_seconds

__all__ = [
    "ADHESIVES",
    "Adhesive",
    "AssemblyPlan",
    "Lift",
    "Move",
    "Pose",
    "School",
    "Step",
    "adhesive_by_key",
    "assembly_plan",
    "batch_seconds",
    "lift_of",
    "making_order",
    "schools_of",
]
