"""sign-ins on the server, invitations, tries, the audit, leases; what is published is guarded once more"""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = '0005'
down_revision = '0004'

EXACT = 'utf8mb4_bin'


def _linked(name: str, to: str, *more: sa.Column[Any]) -> None:
    """A table of links: whom or what each is for, its digest, and by whom and how long."""
    op.create_table(name,
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column(f'{to}_id', sa.Integer(), nullable=False),
    sa.Column('token_sha256', sa.String(length=64), nullable=False),
    *more,
    sa.Column('ended_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint([f'{to}_id'], [f'{to}.id'], name=op.f(f'fk_{name}_{to}_id')),
    sa.PrimaryKeyConstraint('id', name=op.f(f'pk_{name}')),
    sa.UniqueConstraint('token_sha256', name=op.f(f'uq_{name}_token_sha256'))
    )
    op.create_index(op.f(f'ix_{name}_{to}_id'), name, [f'{to}_id'], unique=False)


def upgrade() -> None:
    _linked('sign_in', 'user',
    sa.Column('address', sa.String(length=60), nullable=False),
    sa.Column('device', sa.String(length=200), nullable=False),
    sa.Column('begun_at', sa.DateTime(), nullable=False),
    sa.Column('seen_at', sa.DateTime(), nullable=False))
    made = (
        sa.Column('made_by', sa.String(length=200), nullable=False),
        sa.Column('made_at', sa.DateTime(), nullable=False),
        sa.Column('ends_at', sa.DateTime(), nullable=False),
    )
    _linked('invitation', 'team',
    sa.Column('email', sa.String(length=200), nullable=False),
    sa.Column('editor', sa.Boolean(), nullable=False),
    sa.Column('account_asked', sa.Boolean(), nullable=False), *made)
    _linked('reset_link', 'user', *(c.copy() for c in made))
    op.create_table('attempt',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('counted_under', sa.String(length=120, collation=EXACT), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_attempt'))
    )
    op.create_index('ix_attempt_key', 'attempt', ['counted_under', 'at'], unique=False)
    op.create_table('audit',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=True),
    sa.Column('user_id', sa.Integer(), nullable=True),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.Column('who', sa.String(length=200), nullable=False),
    sa.Column('kind', sa.String(length=40), nullable=False),
    sa.Column('what', sa.Text(), nullable=False),
    sa.Column('address', sa.String(length=60), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_audit'))
    )
    op.create_index('ix_audit_team', 'audit', ['team_id', 'id'], unique=False)
    op.create_table('lease',
    sa.Column('address', sa.String(length=60, collation=EXACT), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('until', sa.DateTime(), nullable=False),
    sa.Column('floor', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('address', name=op.f('pk_lease'))
    )
    op.add_column('membership', sa.Column('joined_at', sa.DateTime(), nullable=True))
    op.add_column('evaluation', sa.Column('imported_sha256', sa.String(length=64), nullable=False, server_default=''))
    # What is an address or a key is compared letter by letter.
    op.alter_column('user', 'email', type_=sa.String(length=200, collation=EXACT), existing_nullable=False)
    op.alter_column('report', 'slug', type_=sa.String(length=40, collation=EXACT), existing_nullable=False)
    for event in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER audit_no_{event.lower()} BEFORE {event} ON audit FOR EACH ROW "
            "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'what was done is never rewritten'"
        )
    op.execute(
        "CREATE TRIGGER report_no_delete BEFORE DELETE ON report FOR EACH ROW "
        "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the address of what is published stays'"
    )
    op.execute(
        "CREATE TRIGGER report_no_update BEFORE UPDATE ON report FOR EACH ROW "
        "IF NEW.id <> OLD.id OR NEW.slug <> OLD.slug OR NEW.team_id <> OLD.team_id "
        "OR NEW.evaluation_id <> OLD.evaluation_id THEN "
        "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the address of what is published stays'; END IF"
    )


def downgrade() -> None:
    for name in ('report_no_update', 'report_no_delete', 'audit_no_update', 'audit_no_delete'):
        op.execute(f"DROP TRIGGER {name}")
    op.alter_column('report', 'slug', type_=sa.String(length=40), existing_nullable=False)
    op.alter_column('user', 'email', type_=sa.String(length=200), existing_nullable=False)
    op.drop_column('evaluation', 'imported_sha256')
    op.drop_column('membership', 'joined_at')
    for name in ('lease', 'audit', 'attempt', 'reset_link', 'invitation', 'sign_in'):
        op.drop_table(name)
