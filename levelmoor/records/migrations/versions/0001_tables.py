"""The tables, and what the database itself forbids for every account."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0006'  # it takes the place of six, and a database that has been through them goes on from here
down_revision = None

NEVER = (
    ("report_revision_no_update", "UPDATE ON report_revision", "a published revision is never changed"),
    ("report_revision_no_delete", "DELETE ON report_revision", "a published revision is never changed"),
    ("audit_no_update", "UPDATE ON audit", "what was done is never rewritten"),
    ("audit_no_delete", "DELETE ON audit", "what was done is never rewritten"),
    ("report_no_delete", "DELETE ON report", "the address of what is published stays"),
)


def upgrade() -> None:
    op.create_table('attempt',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('counted_under', sa.String(length=120, collation='utf8mb4_bin'), nullable=False),
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
    sa.Column('address', sa.String(length=60, collation='utf8mb4_bin'), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('until', sa.DateTime(), nullable=False),
    sa.Column('floor', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('address', name=op.f('pk_lease'))
    )
    op.create_table('setting',
    sa.Column('name', sa.String(length=60), nullable=False),
    sa.Column('value', sa.Text(), nullable=False),
    sa.PrimaryKeyConstraint('name', name=op.f('pk_setting'))
    )
    op.create_table('team',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('region', sa.Integer(), nullable=False),
    sa.Column('rule', sa.String(length=20), nullable=False),
    sa.Column('profile', sa.String(length=20), nullable=False),
    sa.Column('profile_limit', sa.Double(), nullable=False),
    sa.Column('reports_listed', sa.Boolean(), nullable=False),
    sa.Column('bench_rule', sa.String(length=20), nullable=False),
    sa.Column('age_limit_h', sa.Double(), nullable=False),
    sa.Column('rebuild_min', sa.Double(), nullable=False),
    sa.Column('calibration_min', sa.Double(), nullable=False),
    sa.Column('sweep_min', sa.Double(), nullable=False),
    sa.Column('spread_hz', sa.Double(), nullable=False),
    sa.Column('spots', sa.JSON(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_team')),
    sa.UniqueConstraint('name', name=op.f('uq_team_name'))
    )
    op.create_table('user',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('email', sa.String(length=200, collation='utf8mb4_bin'), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('password_hash', sa.String(length=200), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_user')),
    sa.UniqueConstraint('email', name=op.f('uq_user_email'))
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
    op.create_table('instrument',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('kind', sa.String(length=200), nullable=False),
    sa.Column('directivity_db', sa.Double(), nullable=False),
    sa.Column('tracking', sa.Double(), nullable=False),
    sa.Column('source_match_db', sa.Double(), nullable=False),
    sa.Column('repeat_u', sa.Double(), nullable=False),
    sa.Column('watt_accuracy', sa.Double(), nullable=False),
    sa.Column('swr_division', sa.Double(), nullable=False),
    sa.Column('truncates', sa.Integer(), nullable=False),
    sa.Column('full_scale_accuracy', sa.Double(), nullable=False),
    sa.Column('full_scale_w', sa.Double(), nullable=False),
    sa.Column('read_at_w', sa.Double(), nullable=False),
    sa.Column('figures_source', sa.String(length=200), nullable=False),
    sa.Column('class', sa.String(length=20), nullable=False),
    sa.Column('low_hz', sa.Double(), nullable=False),
    sa.Column('high_hz', sa.Double(), nullable=False),
    sa.Column('points', sa.Integer(), nullable=False),
    sa.Column('ports', sa.Integer(), nullable=False),
    sa.Column('memories', sa.Integer(), nullable=False),
    sa.Column('connector', sa.String(length=40), nullable=False),
    sa.Column('max_input_dbm', sa.Double(), nullable=True),
    sa.Column('noise_dbm', sa.Double(), nullable=True),
    sa.Column('noise_rbw_hz', sa.Double(), nullable=True),
    sa.Column('checked_on', sa.String(length=10), nullable=False),
    sa.Column('level_u_db', sa.Double(), nullable=False),
    sa.Column('second_intercept_dbm', sa.Double(), nullable=True),
    sa.Column('third_intercept_dbm', sa.Double(), nullable=True),
    sa.Column('address', sa.String(length=60), nullable=False),
    sa.Column('driver', sa.String(length=80), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_instrument_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_instrument'))
    )
    op.create_index(op.f('ix_instrument_team_id'), 'instrument', ['team_id'], unique=False)
    op.create_table('invitation',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('email', sa.String(length=200), nullable=False),
    sa.Column('editor', sa.Boolean(), nullable=False),
    sa.Column('token_sha256', sa.String(length=64), nullable=False),
    sa.Column('made_by', sa.String(length=200), nullable=False),
    sa.Column('made_at', sa.DateTime(), nullable=False),
    sa.Column('ends_at', sa.DateTime(), nullable=False),
    sa.Column('ended_at', sa.DateTime(), nullable=True),
    sa.Column('account_asked', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_invitation_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_invitation')),
    sa.UniqueConstraint('token_sha256', name=op.f('uq_invitation_token_sha256'))
    )
    op.create_index(op.f('ix_invitation_team_id'), 'invitation', ['team_id'], unique=False)
    op.create_table('membership',
    sa.Column('user_id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('editor', sa.Boolean(), nullable=False),
    sa.Column('joined_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_membership_team_id')),
    sa.ForeignKeyConstraint(['user_id'], ['user.id'], name=op.f('fk_membership_user_id')),
    sa.PrimaryKeyConstraint('user_id', 'team_id', name=op.f('pk_membership'))
    )
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
    op.create_table('product',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('maker', sa.String(length=200), nullable=False),
    sa.Column('description', sa.Text(), nullable=False),
    sa.Column('in_the_box', sa.Text(), nullable=False),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_product_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_product'))
    )
    op.create_index(op.f('ix_product_team_id'), 'product', ['team_id'], unique=False)
    op.create_table('raw_file',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('sha256', sa.String(length=64), nullable=False),
    sa.Column('size', sa.Integer(), nullable=False),
    sa.Column('data', mysql.LONGBLOB(), nullable=False),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_raw_file_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_raw_file')),
    sa.UniqueConstraint('team_id', 'sha256', name=op.f('uq_raw_file_team_id'))
    )
    op.create_table('reset_link',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('user_id', sa.Integer(), nullable=False),
    sa.Column('token_sha256', sa.String(length=64), nullable=False),
    sa.Column('made_by', sa.String(length=200), nullable=False),
    sa.Column('made_at', sa.DateTime(), nullable=False),
    sa.Column('ends_at', sa.DateTime(), nullable=False),
    sa.Column('ended_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['user_id'], ['user.id'], name=op.f('fk_reset_link_user_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_reset_link')),
    sa.UniqueConstraint('token_sha256', name=op.f('uq_reset_link_token_sha256'))
    )
    op.create_index(op.f('ix_reset_link_user_id'), 'reset_link', ['user_id'], unique=False)
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
    op.create_table('sign_in',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('user_id', sa.Integer(), nullable=False),
    sa.Column('token_sha256', sa.String(length=64), nullable=False),
    sa.Column('address', sa.String(length=60), nullable=False),
    sa.Column('device', sa.String(length=200), nullable=False),
    sa.Column('begun_at', sa.DateTime(), nullable=False),
    sa.Column('seen_at', sa.DateTime(), nullable=False),
    sa.Column('ended_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['user_id'], ['user.id'], name=op.f('fk_sign_in_user_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_sign_in')),
    sa.UniqueConstraint('token_sha256', name=op.f('uq_sign_in_token_sha256'))
    )
    op.create_index(op.f('ix_sign_in_user_id'), 'sign_in', ['user_id'], unique=False)
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
    sa.Column('load_id', sa.Integer(), nullable=True),
    sa.Column('done_at', sa.String(length=16), nullable=False),
    sa.Column('parts', sa.JSON(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_calibration_instrument_id')),
    sa.ForeignKeyConstraint(['kit_id'], ['owned.id'], name=op.f('fk_calibration_kit_id')),
    sa.ForeignKeyConstraint(['load_id'], ['owned.id'], name=op.f('fk_calibration_load_id')),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_calibration_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_calibration'))
    )
    op.create_index(op.f('ix_calibration_team_id'), 'calibration', ['team_id'], unique=False)
    op.create_table('evaluation',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('product_id', sa.Integer(), nullable=False),
    sa.Column('title', sa.String(length=200), nullable=False),
    sa.Column('region', sa.Integer(), nullable=False),
    sa.Column('rule', sa.String(length=20), nullable=False),
    sa.Column('profile', sa.String(length=20), nullable=False),
    sa.Column('profile_limit', sa.Double(), nullable=False),
    sa.Column('notes', sa.Text(), nullable=False),
    sa.Column('worst_verdict', sa.String(length=20), nullable=False),
    sa.Column('card', sa.JSON(), nullable=False),
    sa.Column('bench_sample_id', sa.Integer(), nullable=True),
    sa.Column('bench_setup_id', sa.Integer(), nullable=True),
    sa.Column('bench_instrument_id', sa.Integer(), nullable=True),
    sa.Column('bench_setting_id', sa.Integer(), nullable=True),
    sa.Column('bench_round', sa.Integer(), nullable=False),
    sa.Column('bench_calibration', sa.String(length=20), nullable=False),
    sa.Column('bench_calibration_id', sa.Integer(), nullable=True),
    sa.Column('bench_rule', sa.String(length=20), nullable=False),
    sa.Column('age_limit_h', sa.Double(), nullable=False),
    sa.Column('wishes', sa.JSON(), nullable=False),
    sa.Column('plan_seen', sa.JSON(), nullable=False),
    sa.Column('rule_ids', sa.JSON(), nullable=False),
    sa.Column('imported_sha256', sa.String(length=64), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('updated_at', sa.DateTime(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['product_id'], ['product.id'], name=op.f('fk_evaluation_product_id')),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_evaluation_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_evaluation'))
    )
    op.create_index('ix_evaluation_list', 'evaluation', ['team_id', 'deleted_at', 'updated_at'], unique=False)
    op.create_index(op.f('ix_evaluation_worst_verdict'), 'evaluation', ['worst_verdict'], unique=False)
    op.create_table('article_setting',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('windows', sa.JSON(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_article_setting_evaluation_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_article_setting'))
    )
    op.create_index(op.f('ix_article_setting_evaluation_id'), 'article_setting', ['evaluation_id'], unique=False)
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
    op.create_table('report',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('slug', sa.String(length=40, collation='utf8mb4_bin'), nullable=False),
    sa.Column('listed', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_report_evaluation_id')),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_report_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_report')),
    sa.UniqueConstraint('evaluation_id', name=op.f('uq_report_evaluation_id')),
    sa.UniqueConstraint('slug', name=op.f('uq_report_slug'))
    )
    op.create_index(op.f('ix_report_listed'), 'report', ['listed'], unique=False)
    op.create_index(op.f('ix_report_team_id'), 'report', ['team_id'], unique=False)
    op.create_table('sample',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('label', sa.String(length=200), nullable=False),
    sa.Column('serial', sa.String(length=200), nullable=False),
    sa.Column('obtained', sa.String(length=20), nullable=False),
    sa.Column('note', sa.Text(), nullable=False),
    sa.Column('obtained_from', sa.String(length=200), nullable=False),
    sa.Column('price', sa.String(length=60), nullable=False),
    sa.Column('connector', sa.String(length=40), nullable=False),
    sa.Column('suspicion', sa.Text(), nullable=False),
    sa.Column('control', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_sample_evaluation_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_sample'))
    )
    op.create_index(op.f('ix_sample_evaluation_id'), 'sample', ['evaluation_id'], unique=False)
    op.create_table('setup',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('description', sa.Text(), nullable=False),
    sa.Column('plane', sa.String(length=20), nullable=False),
    sa.Column('tuner_in_line', sa.Boolean(), nullable=False),
    sa.Column('line_id', sa.Integer(), nullable=True),
    sa.Column('planned', sa.Boolean(), nullable=False),
    sa.Column('conditions', sa.JSON(), nullable=False),
    sa.Column('role', sa.String(length=20), nullable=False),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_setup_evaluation_id')),
    sa.ForeignKeyConstraint(['line_id'], ['owned.id'], name=op.f('fk_setup_line_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_setup'))
    )
    op.create_index(op.f('ix_setup_evaluation_id'), 'setup', ['evaluation_id'], unique=False)
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
    sa.Column('entered_db', sa.Double(), nullable=False),
    sa.Column('unit', sa.String(length=10), nullable=False),
    sa.Column('columns', sa.String(length=200), nullable=False),
    sa.Column('taken_on', sa.String(length=16), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_capture_evaluation_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_capture_instrument_id')),
    sa.ForeignKeyConstraint(['line_id'], ['owned.id'], name=op.f('fk_capture_line_id')),
    sa.ForeignKeyConstraint(['raw_file_id'], ['raw_file.id'], name=op.f('fk_capture_raw_file_id')),
    sa.ForeignKeyConstraint(['sample_id'], ['sample.id'], name=op.f('fk_capture_sample_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setup.id'], name=op.f('fk_capture_setup_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_capture'))
    )
    op.create_index(op.f('ix_capture_evaluation_id'), 'capture', ['evaluation_id'], unique=False)
    op.create_table('claim',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('quantity', sa.String(length=20), nullable=False),
    sa.Column('limit_value', sa.Double(), nullable=True),
    sa.Column('z0_ohm', sa.Double(), nullable=False),
    sa.Column('tuner', sa.String(length=20), nullable=False),
    sa.Column('windows', sa.JSON(), nullable=False),
    sa.Column('condition_text', sa.Text(), nullable=False),
    sa.Column('source', sa.Text(), nullable=False),
    sa.Column('seen_on', sa.Date(), nullable=True),
    sa.Column('swr_at', sa.Double(), nullable=True),
    sa.Column('power_w', sa.Double(), nullable=True),
    sa.Column('mode', sa.String(length=40), nullable=False),
    sa.Column('duty', sa.Double(), nullable=True),
    sa.Column('stated', sa.String(length=200), nullable=False),
    sa.Column('unit', sa.String(length=10), nullable=False),
    sa.Column('setup_id', sa.Integer(), nullable=True),
    sa.Column('excerpt', sa.Text(), nullable=False),
    sa.Column('one_setting', sa.Boolean(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_claim_evaluation_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setup.id'], name=op.f('fk_claim_setup_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_claim'))
    )
    op.create_index(op.f('ix_claim_evaluation_id'), 'claim', ['evaluation_id'], unique=False)
    op.create_table('report_revision',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('report_id', sa.Integer(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('title', sa.String(length=200), nullable=False),
    sa.Column('headline', sa.String(length=200), nullable=False),
    sa.Column('reason', sa.Text(), nullable=False),
    sa.Column('published_at', sa.DateTime(), nullable=False),
    sa.Column('published_by', sa.String(length=200), nullable=False),
    sa.Column('bundle_sha256', sa.String(length=64), nullable=False),
    sa.Column('bundle', mysql.LONGBLOB(), nullable=False),
    sa.ForeignKeyConstraint(['report_id'], ['report.id'], name=op.f('fk_report_revision_report_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_report_revision')),
    sa.UniqueConstraint('report_id', 'number', name=op.f('uq_report_revision_report_id'))
    )
    op.create_table('sweep',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('sample_id', sa.Integer(), nullable=False),
    sa.Column('setup_id', sa.Integer(), nullable=False),
    sa.Column('instrument_id', sa.Integer(), nullable=False),
    sa.Column('raw_file_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('file_name', sa.String(length=200), nullable=False),
    sa.Column('format', sa.String(length=40), nullable=False),
    sa.Column('ports', sa.Integer(), nullable=False),
    sa.Column('port', sa.Integer(), nullable=False),
    sa.Column('unit', sa.String(length=10), nullable=False),
    sa.Column('kind', sa.String(length=20), nullable=False),
    sa.Column('columns', sa.String(length=200), nullable=False),
    sa.Column('guessed', sa.JSON(), nullable=False),
    sa.Column('calibration', sa.String(length=20), nullable=False),
    sa.Column('taken_on', sa.String(length=16), nullable=False),
    sa.Column('calibration_id', sa.Integer(), nullable=True),
    sa.Column('setting_id', sa.Integer(), nullable=True),
    sa.Column('round', sa.Integer(), nullable=False),
    sa.Column('not_adjusted', sa.Boolean(), nullable=False),
    sa.Column('set_aside', sa.Text(), nullable=False),
    sa.Column('raw', sa.Boolean(), nullable=False),
    sa.Column('segments', sa.JSON(), nullable=False),
    sa.Column('file_z0_ohm', sa.Double(), nullable=True),
    sa.Column('z0_ohm', sa.Double(), nullable=False),
    sa.Column('scalar', sa.Boolean(), nullable=False),
    sa.Column('points', sa.Integer(), nullable=False),
    sa.Column('low_hz', sa.Double(), nullable=False),
    sa.Column('high_hz', sa.Double(), nullable=False),
    sa.Column('largest_step_hz', sa.Double(), nullable=False),
    sa.Column('best_hz', sa.Double(), nullable=False),
    sa.Column('best_gamma', sa.Double(), nullable=False),
    sa.Column('worst_gamma', sa.Double(), nullable=False),
    sa.Column('frequency', mysql.LONGBLOB(), nullable=False),
    sa.Column('gamma', mysql.LONGBLOB(), nullable=False),
    sa.Column('half_step', mysql.LONGBLOB(), nullable=True),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['calibration_id'], ['calibration.id'], name=op.f('fk_sweep_calibration_id')),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_sweep_evaluation_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_sweep_instrument_id')),
    sa.ForeignKeyConstraint(['raw_file_id'], ['raw_file.id'], name=op.f('fk_sweep_raw_file_id')),
    sa.ForeignKeyConstraint(['sample_id'], ['sample.id'], name=op.f('fk_sweep_sample_id')),
    sa.ForeignKeyConstraint(['setting_id'], ['article_setting.id'], name=op.f('fk_sweep_setting_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setup.id'], name=op.f('fk_sweep_setup_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_sweep'))
    )
    op.create_index('ix_sweep_extremes', 'sweep', ['evaluation_id', 'low_hz', 'high_hz'], unique=False)
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
    op.create_table('reading_sheet',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('sample_id', sa.Integer(), nullable=False),
    sa.Column('setup_id', sa.Integer(), nullable=False),
    sa.Column('instrument_id', sa.Integer(), nullable=False),
    sa.Column('setting_id', sa.Integer(), nullable=True),
    sa.Column('round', sa.Integer(), nullable=False),
    sa.Column('kind', sa.String(length=20), nullable=False),
    sa.Column('sweep_id', sa.Integer(), nullable=True),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_reading_sheet_evaluation_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_reading_sheet_instrument_id')),
    sa.ForeignKeyConstraint(['sample_id'], ['sample.id'], name=op.f('fk_reading_sheet_sample_id')),
    sa.ForeignKeyConstraint(['setting_id'], ['article_setting.id'], name=op.f('fk_reading_sheet_setting_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setup.id'], name=op.f('fk_reading_sheet_setup_id')),
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
    for name, event, words in NEVER:
        op.execute(
            f"CREATE TRIGGER {name} BEFORE {event} FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = '{words}'"
        )
    op.execute(
        "CREATE TRIGGER report_no_update BEFORE UPDATE ON report FOR EACH ROW "
        "IF NEW.id <> OLD.id OR NEW.slug <> OLD.slug OR NEW.team_id <> OLD.team_id "
        "OR NEW.evaluation_id <> OLD.evaluation_id THEN "
        "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the address of what is published stays'; END IF"
    )
