"""Where the windows of people are"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "presences",
        sa.Column("window_key", sa.String(32, collation="ascii_bin"), primary_key=True),
        sa.Column("account_id", sa.Integer(), nullable=False),
        sa.Column("place", sa.String(40), nullable=False),
        sa.Column("seen", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["accounts.id"], name="fk_presences_account_id_accounts"
        ),
    )
    op.create_index("ix_presences_place", "presences", ["place"])
    op.create_index("ix_presences_seen", "presences", ["seen"])


def downgrade() -> None:
    op.drop_table("presences")
