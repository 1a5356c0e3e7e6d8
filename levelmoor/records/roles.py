"""What a member of a team may do: one table, which the pages show and every request is held to."""

from collections.abc import Mapping
from enum import StrEnum


class Act(StrEnum):
    """What is done with a team's work."""

    SEE = "see"
    COMMENT = "comment"
    WORK = "work"
    PUBLISH = "publish"
    REVIEW = "review"
    LEAD = "lead"


class MemberRole(StrEnum):
    """What a member is in a team."""

    READER = "reader"
    MEMBER = "member"
    REVIEWER = "reviewer"
    EDITOR = "editor"


ACT_WORDS: Mapping[Act, str] = {
    Act.SEE: "See the team's evaluations, equipment and history",
    Act.COMMENT: "Comment, and tick off tasks",
    Act.WORK: "Add evidence and claims, change and remove",
    Act.PUBLISH: "Ask for a review, and publish reports",
    Act.REVIEW: "Approve other people's reports, or return them",
    Act.LEAD: "Invite and remove members, change settings, unlist and withdraw reports",
}
_READER = frozenset({Act.SEE, Act.COMMENT})
_MEMBER = _READER | {Act.WORK, Act.PUBLISH}
MAY: Mapping[MemberRole, frozenset[Act]] = {
    MemberRole.READER: _READER,
    MemberRole.MEMBER: _MEMBER,
    MemberRole.REVIEWER: _MEMBER | {Act.REVIEW},
    MemberRole.EDITOR: frozenset(Act),
}


def may(role: str, act: Act) -> bool:
    return act in MAY[MemberRole(role)]
