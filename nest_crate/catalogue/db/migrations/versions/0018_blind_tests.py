"""What people heard in blind tests"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "blind_tests",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("library_id", sa.Integer(), nullable=False),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(64, collation="ascii_bin"), nullable=False),
        sa.Column("names", sa.JSON(), nullable=False),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("trials", sa.Integer(), nullable=False),
        sa.Column("correct", sa.Integer(), nullable=False),
        sa.Column("ranking", sa.JSON(), nullable=False),
        sa.Column("created", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["library_id"], ["libraries.id"], name="fk_blind_tests_library_id_libraries"
        ),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name="fk_blind_tests_account_id_accounts"
        ),
    )
    op.create_index("ix_blind_tests_library_id_key", "blind_tests", ["library_id", "key"])


def downgrade() -> None:
    op.drop_table("blind_tests")
