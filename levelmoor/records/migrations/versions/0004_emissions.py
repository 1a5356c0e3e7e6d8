"""captures of keyed radios, rule sets, filters; what exists keeps judging as it did"""

import sqlalchemy as sa
from alembic import op

revision = '0004'
down_revision = '0003'


def upgrade() -> None:
    op.create_table('capture',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('sample_id', sa.Integer(), nullable=False),
    sa.Column('setup_id', sa.Integer(), nullable=False),
    sa.Column('instrument_id', sa.Integer(), nullable=False),
    sa.Column('raw_file_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('file_name', sa.String(length=200), nullable=False),
    sa.Column('carrier_hz', sa.Double(), nullable=False),
    sa.Column('rbw_hz', sa.Double(), nullable=False),
    sa.Column('mode', sa.String(length=40), nullable=False),
    sa.Column('pad_ids', sa.JSON(), nullable=False),
    sa.Column('line_id', sa.Integer(), nullable=True),
    sa.Column('offset_curve', sa.JSON(), nullable=False),
    sa.Column('filter_name', sa.String(length=200), nullable=False),
    sa.Column('unit', sa.String(length=10), nullable=False),
    sa.Column('columns', sa.String(length=200), nullable=False),
    sa.Column('taken_on', sa.String(length=16), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_capture_evaluation_id')),
    sa.ForeignKeyConstraint(['sample_id'], ['sample.id'], name=op.f('fk_capture_sample_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setup.id'], name=op.f('fk_capture_setup_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_capture_instrument_id')),
    sa.ForeignKeyConstraint(['raw_file_id'], ['raw_file.id'], name=op.f('fk_capture_raw_file_id')),
    sa.ForeignKeyConstraint(['line_id'], ['owned.id'], name=op.f('fk_capture_line_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_capture'))
    )
    op.create_index(op.f('ix_capture_evaluation_id'), 'capture', ['evaluation_id'], unique=False)
    op.create_table('emission_filter',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('raw_file_id', sa.Integer(), nullable=False),
    sa.Column('file_name', sa.String(length=200), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_emission_filter_evaluation_id')),
    sa.ForeignKeyConstraint(['raw_file_id'], ['raw_file.id'], name=op.f('fk_emission_filter_raw_file_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_emission_filter'))
    )
    op.create_index(op.f('ix_emission_filter_evaluation_id'), 'emission_filter', ['evaluation_id'], unique=False)
    op.create_table('rule_set',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('rule_id', sa.String(length=60), nullable=False),
    sa.Column('rules', sa.JSON(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_rule_set_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_rule_set'))
    )
    op.create_index(op.f('ix_rule_set_team_id'), 'rule_set', ['team_id'], unique=False)
    op.add_column('instrument', sa.Column('level_u_db', sa.Double(), nullable=False, server_default='0.5'))
    op.add_column('instrument', sa.Column('second_intercept_dbm', sa.Double(), nullable=True))
    op.add_column('instrument', sa.Column('third_intercept_dbm', sa.Double(), nullable=True))
    op.add_column('evaluation', sa.Column('rule_ids', sa.JSON(), nullable=False, server_default='[]'))


def downgrade() -> None:
    op.drop_column('evaluation', 'rule_ids')
    for name in ('third_intercept_dbm', 'second_intercept_dbm', 'level_u_db'):
        op.drop_column('instrument', name)
    for name in ('rule_set', 'emission_filter', 'capture'):
        op.drop_table(name)
