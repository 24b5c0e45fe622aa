"""Families: plans of many members, their renders, and judging them together."""

from nest_crate.core.families.document import (
    BATCH_VERSION,
    MAX_MEMBERS,
    Axis,
    BatchPlan,
    Centre,
    MemberRules,
    PlannedSound,
    Spread,
)
from nest_crate.core.families.loading import count_of, dump_batch, load_batch, require_runnable
from nest_crate.core.families.members import Family, Member
from nest_crate.core.families.naming import NAME_FIELDS, member_name
from nest_crate.core.families.overrides import base_values, overridden
from nest_crate.core.families.rendering import MadeMember, finishing, made_of, render_member

__all__ = [
    "BATCH_VERSION",
    "MAX_MEMBERS",
    "NAME_FIELDS",
    "Axis",
    "BatchPlan",
    "Centre",
    "Family",
    "MadeMember",
    "Member",
    "MemberRules",
    "PlannedSound",
    "Spread",
    "base_values",
    "count_of",
    "dump_batch",
    "finishing",
    "load_batch",
    "made_of",
    "member_name",
    "overridden",
    "render_member",
    "require_runnable",
]
