"""Whose private draft a sound is, until it is named, kept or moved to a library"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("sounds", sa.Column("private_to_id", sa.Integer(), nullable=True))
    op.create_foreign_key(
        "fk_sounds_private_to_id_accounts", "sounds", "accounts", ["private_to_id"], ["id"]
    )


def downgrade() -> None:
    op.drop_constraint("fk_sounds_private_to_id_accounts", "sounds", type_="foreignkey")
    op.drop_column("sounds", "private_to_id")
