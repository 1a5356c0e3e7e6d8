"""Raw files, withdrawals and answers to reviews stay as they were, whoever writes: the owner's triggers say so."""

from alembic import op

revision = "0014"
down_revision = "0013"

_REFUSED = "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT"
_TRIGGERS = {
    "raw_file_no_update": f"BEFORE UPDATE ON raw_file FOR EACH ROW {_REFUSED} = 'a raw file is never changed'",
    "raw_file_no_delete": f"BEFORE DELETE ON raw_file FOR EACH ROW {_REFUSED} = 'a raw file is never changed'",
    "report_stays_withdrawn": f"""BEFORE UPDATE ON report FOR EACH ROW
        IF OLD.withdrawn_at IS NOT NULL AND NOT (NEW.withdrawn_at <=> OLD.withdrawn_at
            AND NEW.withdrawn_by <=> OLD.withdrawn_by AND NEW.withdrawn_reason <=> OLD.withdrawn_reason)
        THEN {_REFUSED} = 'a withdrawal stays as it was'; END IF""",
    "review_stays_answered": f"""BEFORE UPDATE ON review FOR EACH ROW
        IF OLD.approved IS NOT NULL OR NEW.content_sha256 <> OLD.content_sha256 OR NEW.asked_by_id <> OLD.asked_by_id
            OR NEW.evaluation_id <> OLD.evaluation_id
        THEN {_REFUSED} = 'an answer to a review stays as it was'; END IF""",
    "review_no_delete": f"BEFORE DELETE ON review FOR EACH ROW {_REFUSED} = 'an answer to a review stays as it was'",
}


def upgrade() -> None:
    for name, what in _TRIGGERS.items():
        op.execute(f"CREATE TRIGGER {name} {what}")
