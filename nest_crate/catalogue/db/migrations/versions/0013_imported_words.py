"""Samples keep the folder that their file lay in, and another program's iXML"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("samples", sa.Column("folder", sa.String(255), nullable=False, server_default=""))
    op.add_column("samples", sa.Column("ixml", mysql.MEDIUMTEXT(), nullable=True))
    op.alter_column(
        "samples",
        "folder",
        existing_type=sa.String(255),
        existing_nullable=False,
        server_default=None,
    )


def downgrade() -> None:
    op.drop_column("samples", "ixml")
    op.drop_column("samples", "folder")
