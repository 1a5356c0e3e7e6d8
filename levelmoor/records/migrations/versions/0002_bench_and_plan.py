"""the bench, what a team owns, the plan; what exists keeps judging as it did"""

import sqlalchemy as sa
from alembic import op

revision = '0002'
down_revision = '0001'


def upgrade() -> None:
    op.create_table('owned',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('kind', sa.String(length=20), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('facts', sa.JSON(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_owned_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_owned'))
    )
    op.create_index(op.f('ix_owned_team_id'), 'owned', ['team_id'], unique=False)
    op.create_table('calibration',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('instrument_id', sa.Integer(), nullable=False),
    sa.Column('low_hz', sa.Double(), nullable=False),
    sa.Column('high_hz', sa.Double(), nullable=False),
    sa.Column('points', sa.Integer(), nullable=False),
    sa.Column('standards', sa.String(length=200), nullable=False),
    sa.Column('plane', sa.String(length=20), nullable=False),
    sa.Column('at_text', sa.String(length=200), nullable=False),
    sa.Column('kit_id', sa.Integer(), nullable=True),
    sa.Column('done_at', sa.String(length=16), nullable=False),
    sa.Column('parts', sa.JSON(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_calibration_instrument_id')),
    sa.ForeignKeyConstraint(['kit_id'], ['owned.id'], name=op.f('fk_calibration_kit_id')),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_calibration_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_calibration'))
    )
    op.create_index(op.f('ix_calibration_team_id'), 'calibration', ['team_id'], unique=False)
    op.create_table('bench_check',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('kind', sa.String(length=20), nullable=False),
    sa.Column('instrument_id', sa.Integer(), nullable=True),
    sa.Column('calibration_id', sa.Integer(), nullable=True),
    sa.Column('item_id', sa.Integer(), nullable=True),
    sa.Column('done_at', sa.String(length=16), nullable=False),
    sa.Column('parts', sa.JSON(), nullable=False),
    sa.Column('figures', sa.JSON(), nullable=False),
    sa.Column('pairs', sa.JSON(), nullable=False),
    sa.Column('note', sa.Text(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['calibration_id'], ['calibration.id'], name=op.f('fk_bench_check_calibration_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_bench_check_instrument_id')),
    sa.ForeignKeyConstraint(['item_id'], ['owned.id'], name=op.f('fk_bench_check_item_id')),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_bench_check_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_bench_check'))
    )
    op.create_index(op.f('ix_bench_check_team_id'), 'bench_check', ['team_id'], unique=False)
    op.create_table('tick',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('entry_id', sa.String(length=40), nullable=False),
    sa.Column('run_key', sa.String(length=80), nullable=False),
    sa.Column('done', sa.Boolean(), nullable=False),
    sa.Column('note', sa.Text(), nullable=False),
    sa.Column('made_at', sa.String(length=30), nullable=False),
    sa.Column('made_by', sa.String(length=200), nullable=False),
    sa.Column('received_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_tick_evaluation_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_tick')),
    sa.UniqueConstraint('evaluation_id', 'entry_id', name=op.f('uq_tick_evaluation_id'))
    )
    op.create_table('picture',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('claim_id', sa.Integer(), nullable=True),
    sa.Column('raw_file_id', sa.Integer(), nullable=False),
    sa.Column('file_name', sa.String(length=200), nullable=False),
    sa.Column('caption', sa.String(length=200), nullable=False),
    sa.Column('width', sa.Integer(), nullable=False),
    sa.Column('height', sa.Integer(), nullable=False),
    sa.Column('media_type', sa.String(length=40), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['claim_id'], ['claim.id'], name=op.f('fk_picture_claim_id')),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_picture_evaluation_id')),
    sa.ForeignKeyConstraint(['raw_file_id'], ['raw_file.id'], name=op.f('fk_picture_raw_file_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_picture'))
    )
    op.create_index(op.f('ix_picture_evaluation_id'), 'picture', ['evaluation_id'], unique=False)
    op.add_column('claim', sa.Column('swr_at', sa.Double(), nullable=True))
    op.add_column('claim', sa.Column('power_w', sa.Double(), nullable=True))
    op.add_column('claim', sa.Column('mode', sa.String(length=40), nullable=False, server_default=''))
    op.add_column('claim', sa.Column('duty', sa.Double(), nullable=True))
    op.add_column('claim', sa.Column('stated', sa.String(length=200), nullable=False, server_default=''))
    op.add_column('claim', sa.Column('setup_id', sa.Integer(), nullable=True))
    op.add_column('claim', sa.Column('excerpt', sa.Text(), nullable=False, server_default=''))
    op.create_foreign_key(op.f('fk_claim_setup_id'), 'claim', 'setup', ['setup_id'], ['id'])
    op.add_column('evaluation', sa.Column('bench_calibration_id', sa.Integer(), nullable=True))
    op.add_column('evaluation', sa.Column('bench_rule', sa.String(length=20), nullable=False, server_default='stated'))
    op.add_column('evaluation', sa.Column('age_limit_h', sa.Double(), nullable=False, server_default='24'))
    op.add_column('evaluation', sa.Column('wishes', sa.JSON(), nullable=False, server_default='{}'))
    op.add_column('evaluation', sa.Column('plan_seen', sa.JSON(), nullable=False, server_default='{}'))
    op.add_column('instrument', sa.Column('class', sa.String(length=20), nullable=False, server_default='unstated'))
    op.add_column('instrument', sa.Column('low_hz', sa.Double(), nullable=False, server_default='0'))
    op.add_column('instrument', sa.Column('high_hz', sa.Double(), nullable=False, server_default='0'))
    op.add_column('instrument', sa.Column('points', sa.Integer(), nullable=False, server_default='0'))
    op.add_column('instrument', sa.Column('ports', sa.Integer(), nullable=False, server_default='1'))
    op.add_column('instrument', sa.Column('memories', sa.Integer(), nullable=False, server_default='0'))
    op.add_column('instrument', sa.Column('connector', sa.String(length=40), nullable=False, server_default=''))
    op.add_column('instrument', sa.Column('max_input_dbm', sa.Double(), nullable=True))
    op.add_column('instrument', sa.Column('noise_dbm', sa.Double(), nullable=True))
    op.add_column('instrument', sa.Column('noise_rbw_hz', sa.Double(), nullable=True))
    op.add_column('instrument', sa.Column('checked_on', sa.String(length=10), nullable=False, server_default=''))
    op.add_column('product', sa.Column('in_the_box', sa.Text(), nullable=False, server_default=''))
    op.add_column('sample', sa.Column('obtained_from', sa.String(length=200), nullable=False, server_default=''))
    op.add_column('sample', sa.Column('price', sa.String(length=60), nullable=False, server_default=''))
    op.add_column('sample', sa.Column('connector', sa.String(length=40), nullable=False, server_default=''))
    op.add_column('sample', sa.Column('suspicion', sa.Text(), nullable=False, server_default=''))
    op.add_column('setup', sa.Column('line_id', sa.Integer(), nullable=True))
    op.add_column('setup', sa.Column('planned', sa.Boolean(), nullable=False, server_default='1'))
    op.create_foreign_key(op.f('fk_setup_line_id'), 'setup', 'owned', ['line_id'], ['id'])
    op.add_column('sweep', sa.Column('calibration_id', sa.Integer(), nullable=True))
    op.add_column('sweep', sa.Column('raw', sa.Boolean(), nullable=False, server_default='0'))
    op.add_column('sweep', sa.Column('segments', sa.JSON(), nullable=False, server_default='[]'))
    # A day becomes a text that may carry a time; a day that was not known becomes an empty one.
    op.alter_column('sweep', 'taken_on', existing_type=sa.DATE(), type_=sa.String(length=16), nullable=True)
    op.execute("UPDATE sweep SET taken_on = '' WHERE taken_on IS NULL")
    op.alter_column('sweep', 'taken_on', existing_type=sa.String(length=16), nullable=False)
    op.create_foreign_key(op.f('fk_sweep_calibration_id'), 'sweep', 'calibration', ['calibration_id'], ['id'])
    op.add_column('team', sa.Column('bench_rule', sa.String(length=20), nullable=False, server_default='stated'))
    op.add_column('team', sa.Column('age_limit_h', sa.Double(), nullable=False, server_default='24'))
    op.add_column('team', sa.Column('rebuild_min', sa.Double(), nullable=False, server_default='20'))
    op.add_column('team', sa.Column('calibration_min', sa.Double(), nullable=False, server_default='6'))
    op.add_column('team', sa.Column('sweep_min', sa.Double(), nullable=False, server_default='2'))
    op.add_column('team', sa.Column('spread_hz', sa.Double(), nullable=False, server_default='5000'))


def downgrade() -> None:
    op.drop_column('team', 'spread_hz')
    op.drop_column('team', 'sweep_min')
    op.drop_column('team', 'calibration_min')
    op.drop_column('team', 'rebuild_min')
    op.drop_column('team', 'age_limit_h')
    op.drop_column('team', 'bench_rule')
    op.drop_constraint(op.f('fk_sweep_calibration_id'), 'sweep', type_='foreignkey')
    op.alter_column('sweep', 'taken_on', existing_type=sa.String(length=16), nullable=True)
    op.execute("UPDATE sweep SET taken_on = NULLIF(LEFT(taken_on, 10), '')")
    op.alter_column('sweep', 'taken_on', existing_type=sa.String(length=16), type_=sa.DATE(), nullable=True)
    op.drop_column('sweep', 'segments')
    op.drop_column('sweep', 'raw')
    op.drop_column('sweep', 'calibration_id')
    op.drop_constraint(op.f('fk_setup_line_id'), 'setup', type_='foreignkey')
    op.drop_column('setup', 'planned')
    op.drop_column('setup', 'line_id')
    op.drop_column('sample', 'suspicion')
    op.drop_column('sample', 'connector')
    op.drop_column('sample', 'price')
    op.drop_column('sample', 'obtained_from')
    op.drop_column('product', 'in_the_box')
    op.drop_column('instrument', 'checked_on')
    op.drop_column('instrument', 'noise_rbw_hz')
    op.drop_column('instrument', 'noise_dbm')
    op.drop_column('instrument', 'max_input_dbm')
    op.drop_column('instrument', 'connector')
    op.drop_column('instrument', 'memories')
    op.drop_column('instrument', 'ports')
    op.drop_column('instrument', 'points')
    op.drop_column('instrument', 'high_hz')
    op.drop_column('instrument', 'low_hz')
    op.drop_column('instrument', 'class')
    op.drop_column('evaluation', 'plan_seen')
    op.drop_column('evaluation', 'wishes')
    op.drop_column('evaluation', 'age_limit_h')
    op.drop_column('evaluation', 'bench_rule')
    op.drop_column('evaluation', 'bench_calibration_id')
    op.drop_constraint(op.f('fk_claim_setup_id'), 'claim', type_='foreignkey')
    op.drop_column('claim', 'excerpt')
    op.drop_column('claim', 'setup_id')
    op.drop_column('claim', 'stated')
    op.drop_column('claim', 'duty')
    op.drop_column('claim', 'mode')
    op.drop_column('claim', 'power_w')
    op.drop_column('claim', 'swr_at')
    op.drop_index(op.f('ix_picture_evaluation_id'), table_name='picture')
    op.drop_table('picture')
    op.drop_table('tick')
    op.drop_index(op.f('ix_bench_check_team_id'), table_name='bench_check')
    op.drop_table('bench_check')
    op.drop_index(op.f('ix_calibration_team_id'), table_name='calibration')
    op.drop_table('calibration')
    op.drop_index(op.f('ix_owned_team_id'), table_name='owned')
    op.drop_table('owned')
