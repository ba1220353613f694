"""What needs a look about a job: its contents, its boards, the thing when it is closed."""

from jadeite.core.judgement.boards import board_findings
from jadeite.core.judgement.closed import (
    body_findings,
    overlay_findings,
    passing_findings,
    round_findings,
    showing_findings,
)
from jadeite.core.judgement.contents import cautions, contents_findings, mass_of_contents
from jadeite.core.judgement.plies import ply_findings
from jadeite.core.judgement.strength import strength_findings
from jadeite.core.judgement.swinging import swing_findings

__all__ = [
    "board_findings",
    "body_findings",
    "cautions",
    "contents_findings",
    "mass_of_contents",
    "overlay_findings",
    "passing_findings",
    "ply_findings",
    "round_findings",
    "showing_findings",
    "strength_findings",
    "swing_findings",
]
