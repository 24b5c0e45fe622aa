"""A link opens a sound by itself too"""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("share_links", sa.Column("sound_id", sa.Integer(), nullable=True))
    op.create_foreign_key(
        op.f("fk_share_links_sound_id_sounds"), "share_links", "sounds", ["sound_id"], ["id"]
    )


def downgrade() -> None:
    op.drop_constraint(op.f("fk_share_links_sound_id_sounds"), "share_links", type_="foreignkey")
    op.drop_column("share_links", "sound_id")
