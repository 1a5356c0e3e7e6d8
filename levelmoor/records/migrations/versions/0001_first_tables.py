"""first tables"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0001'
down_revision = None


def upgrade() -> None:
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
    sa.PrimaryKeyConstraint('id', name=op.f('pk_team')),
    sa.UniqueConstraint('name', name=op.f('uq_team_name'))
    )
    op.create_table('user',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('email', sa.String(length=200), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('password_hash', sa.String(length=200), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_user')),
    sa.UniqueConstraint('email', name=op.f('uq_user_email'))
    )
    op.create_table('instrument',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('kind', sa.String(length=200), nullable=False),
    sa.Column('directivity_db', sa.Double(), nullable=False),
    sa.Column('tracking', sa.Double(), nullable=False),
    sa.Column('source_match_db', sa.Double(), nullable=False),
    sa.Column('repeat_u', sa.Double(), nullable=False),
    sa.Column('figures_source', sa.String(length=200), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_instrument_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_instrument'))
    )
    op.create_index(op.f('ix_instrument_team_id'), 'instrument', ['team_id'], unique=False)
    op.create_table('membership',
    sa.Column('user_id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('editor', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_membership_team_id')),
    sa.ForeignKeyConstraint(['user_id'], ['user.id'], name=op.f('fk_membership_user_id')),
    sa.PrimaryKeyConstraint('user_id', 'team_id', name=op.f('pk_membership'))
    )
    op.create_table('product',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('maker', sa.String(length=200), nullable=False),
    sa.Column('description', sa.Text(), nullable=False),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_product_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_product'))
    )
    op.create_index(op.f('ix_product_team_id'), 'product', ['team_id'], unique=False)
    op.create_table('raw_file',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('sha256', sa.String(length=64), nullable=False),
    sa.Column('size', sa.Integer(), nullable=False),
    sa.Column('data', sa.LargeBinary().with_variant(mysql.LONGBLOB(), 'mariadb').with_variant(mysql.LONGBLOB(), 'mysql'), nullable=False),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_raw_file_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_raw_file')),
    sa.UniqueConstraint('team_id', 'sha256', name=op.f('uq_raw_file_team_id'))
    )
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
    sa.Column('bench_calibration', sa.String(length=20), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('updated_at', sa.DateTime(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['product_id'], ['product.id'], name=op.f('fk_evaluation_product_id')),
    sa.ForeignKeyConstraint(['team_id'], ['team.id'], name=op.f('fk_evaluation_team_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_evaluation'))
    )
    op.create_index('ix_evaluation_list', 'evaluation', ['team_id', 'deleted_at', 'updated_at'], unique=False)
    op.create_index(op.f('ix_evaluation_worst_verdict'), 'evaluation', ['worst_verdict'], unique=False)
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
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_claim_evaluation_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_claim'))
    )
    op.create_index(op.f('ix_claim_evaluation_id'), 'claim', ['evaluation_id'], unique=False)
    op.create_table('report',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('team_id', sa.Integer(), nullable=False),
    sa.Column('evaluation_id', sa.Integer(), nullable=False),
    sa.Column('slug', sa.String(length=40), nullable=False),
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
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_setup_evaluation_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_setup'))
    )
    op.create_index(op.f('ix_setup_evaluation_id'), 'setup', ['evaluation_id'], unique=False)
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
    sa.Column('bundle', sa.LargeBinary().with_variant(mysql.LONGBLOB(), 'mariadb').with_variant(mysql.LONGBLOB(), 'mysql'), nullable=False),
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
    sa.Column('guessed', sa.JSON(), nullable=False),
    sa.Column('calibration', sa.String(length=20), nullable=False),
    sa.Column('taken_on', sa.Date(), nullable=True),
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
    sa.Column('frequency', sa.LargeBinary().with_variant(mysql.LONGBLOB(), 'mariadb').with_variant(mysql.LONGBLOB(), 'mysql'), nullable=False),
    sa.Column('gamma', sa.LargeBinary().with_variant(mysql.LONGBLOB(), 'mariadb').with_variant(mysql.LONGBLOB(), 'mysql'), nullable=False),
    sa.Column('half_step', sa.LargeBinary().with_variant(mysql.LONGBLOB(), 'mariadb').with_variant(mysql.LONGBLOB(), 'mysql'), nullable=True),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('deleted_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['evaluation_id'], ['evaluation.id'], name=op.f('fk_sweep_evaluation_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_sweep_instrument_id')),
    sa.ForeignKeyConstraint(['raw_file_id'], ['raw_file.id'], name=op.f('fk_sweep_raw_file_id')),
    sa.ForeignKeyConstraint(['sample_id'], ['sample.id'], name=op.f('fk_sweep_sample_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setup.id'], name=op.f('fk_sweep_setup_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_sweep'))
    )
    op.create_index('ix_sweep_extremes', 'sweep', ['evaluation_id', 'low_hz', 'high_hz'], unique=False)
    # A published revision is never changed, by whatever account.
    for event in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER report_revision_no_{event.lower()} BEFORE {event} ON report_revision FOR EACH ROW "
            "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a published revision is never changed'"
        )


def downgrade() -> None:
    for event in ("update", "delete"):
        op.execute(f"DROP TRIGGER report_revision_no_{event}")
    op.drop_index('ix_sweep_extremes', table_name='sweep')
    op.drop_table('sweep')
    op.drop_table('report_revision')
    op.drop_index(op.f('ix_setup_evaluation_id'), table_name='setup')
    op.drop_table('setup')
    op.drop_index(op.f('ix_sample_evaluation_id'), table_name='sample')
    op.drop_table('sample')
    op.drop_index(op.f('ix_report_team_id'), table_name='report')
    op.drop_index(op.f('ix_report_listed'), table_name='report')
    op.drop_table('report')
    op.drop_index(op.f('ix_claim_evaluation_id'), table_name='claim')
    op.drop_table('claim')
    op.drop_index(op.f('ix_evaluation_worst_verdict'), table_name='evaluation')
    op.drop_index('ix_evaluation_list', table_name='evaluation')
    op.drop_table('evaluation')
    op.drop_table('raw_file')
    op.drop_index(op.f('ix_product_team_id'), table_name='product')
    op.drop_table('product')
    op.drop_table('membership')
    op.drop_index(op.f('ix_instrument_team_id'), table_name='instrument')
    op.drop_table('instrument')
    op.drop_table('user')
    op.drop_table('team')
    op.drop_table('setting')
