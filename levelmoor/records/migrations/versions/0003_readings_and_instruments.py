"""readings, live instruments, conditions of setups, mappings of columns; what exists keeps judging as it did"""

import sqlalchemy as sa
from alembic import op

revision = '0003'
down_revision = '0002'


def upgrade() -> None:
    op.create_table('driver',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.Column('commands', sa.JSON(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_driver_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_driver'))
    )
    op.create_index(op.f('ix_driver_team_id'), 'driver', ['team_id'], unique=False)
    op.create_table('reading_sheet',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('sample_id', sa.Integer(), nullable=False),
    sa.Column('setup_id', sa.Integer(), nullable=False),
    sa.Column('instrument_id', sa.Integer(), nullable=False),
    sa.Column('kind', sa.String(length=20), nullable=False),
    sa.Column('sweep_id', sa.Integer(), nullable=True),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_reading_sheet_evaluation_id')),
    sa.ForeignKeyConstraint(['sample_id'], ['sample.id'], name=op.f('fk_reading_sheet_sample_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setup.id'], name=op.f('fk_reading_sheet_setup_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_reading_sheet_instrument_id')),
    sa.ForeignKeyConstraint(['sweep_id'], ['sweep.id'], name=op.f('fk_reading_sheet_sweep_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_reading_sheet'))
    )
    op.create_index(op.f('ix_reading_sheet_evaluation_id'), 'reading_sheet', ['evaluation_id'], unique=False)
    op.create_table('reading',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('sheet_id', sa.Integer(), nullable=False),
    sa.Column('entry_id', sa.String(length=40), nullable=False),
    sa.Column('typed', sa.JSON(), nullable=False),
    sa.Column('answers', sa.JSON(), nullable=False),
    sa.Column('made_at', sa.String(length=30), nullable=False),
    sa.Column('made_by', sa.String(length=200), nullable=False),
    sa.Column('received_at', sa.DateTime(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['sheet_id'], ['reading_sheet.id'], name=op.f('fk_reading_sheet_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_reading')),
    sa.UniqueConstraint('sheet_id', 'entry_id', name=op.f('uq_reading_sheet_id'))
    )
    op.create_table('column_mapping',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('header_sha256', sa.String(length=64), nullable=False),
    sa.Column('columns', sa.String(length=200), nullable=False),
    sa.Column('unit', sa.String(length=10), nullable=False),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_column_mapping_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_column_mapping')),
    sa.UniqueConstraint('team_id', 'header_sha256', name=op.f('uq_column_mapping_team_id'))
    )
    op.create_table('pending_file',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('raw_file_id', sa.Integer(), nullable=False),
    sa.Column('file_name', sa.String(length=200), nullable=False),
    sa.Column('taken_on', sa.String(length=16), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_pending_file_evaluation_id')),
    sa.ForeignKeyConstraint(['raw_file_id'], ['raw_file.id'], name=op.f('fk_pending_file_raw_file_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_pending_file'))
    )
    op.create_index(op.f('ix_pending_file_evaluation_id'), 'pending_file', ['evaluation_id'], unique=False)
    op.add_column('team', sa.Column('spots', sa.JSON(), nullable=False, server_default='[]'))
    op.add_column('instrument', sa.Column('watt_accuracy', sa.Double(), nullable=False, server_default='0'))
    op.add_column('instrument', sa.Column('swr_division', sa.Double(), nullable=False, server_default='0'))
    op.add_column('instrument', sa.Column('address', sa.String(length=60), nullable=False, server_default=''))
    op.add_column('instrument', sa.Column('driver', sa.String(length=80), nullable=False, server_default=''))
    op.add_column('setup', sa.Column('conditions', sa.JSON(), nullable=False, server_default='{}'))
    op.add_column('sweep', sa.Column('columns', sa.String(length=200), nullable=False, server_default=''))


def downgrade() -> None:
    op.drop_column('sweep', 'columns')
    op.drop_column('setup', 'conditions')
    for name in ('driver', 'address', 'swr_division', 'watt_accuracy'):
        op.drop_column('instrument', name)
    op.drop_column('team', 'spots')
    for name in ('pending_file', 'column_mapping', 'reading', 'reading_sheet', 'driver'):
        op.drop_table(name)
