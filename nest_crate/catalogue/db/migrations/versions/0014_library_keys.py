"""Libraries have keys like their names; tokens may open one library alone"""

import re

import sqlalchemy as sa
from alembic import op
from anyascii import anyascii

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_LONGEST = 60


def upgrade() -> None:
    op.add_column("libraries", sa.Column("key", sa.String(_LONGEST), nullable=True))
    _name_all(op.get_bind())
    op.alter_column(
        "libraries",
        "key",
        existing_type=sa.String(_LONGEST),
        existing_nullable=True,
        nullable=False,
    )
    op.create_unique_constraint("uq_libraries_key", "libraries", ["key"])
    op.add_column("api_tokens", sa.Column("library_id", sa.Integer(), nullable=True))
    op.create_foreign_key(
        "fk_api_tokens_library_id_libraries", "api_tokens", "libraries", ["library_id"], ["id"]
    )


def _name_all(connection: sa.Connection) -> None:
    """Keys as the program made them when this was written, the oldest library first."""
    libraries = sa.table("libraries", sa.column("id"), sa.column("name"), sa.column("key"))
    query = sa.select(libraries.c.id, libraries.c.name).order_by(libraries.c.id)
    taken: set[str] = set()
    for row in connection.execute(query).all():
        plain = "-".join(re.findall(r"[a-z0-9]+", str(anyascii(row.name)).lower()))
        plain = plain[: _LONGEST - 6].strip("-")
        if not re.search("[a-z]", plain):
            plain = f"library-{plain}".strip("-")
        number, key = 1, plain
        while key in taken:
            number += 1
            key = f"{plain}-{number}"
        taken.add(key)
        connection.execute(libraries.update().where(libraries.c.id == row.id).values(key=key))


def downgrade() -> None:
    op.drop_constraint("fk_api_tokens_library_id_libraries", "api_tokens", type_="foreignkey")
    op.drop_column("api_tokens", "library_id")
    op.drop_constraint("uq_libraries_key", "libraries", type_="unique")
    op.drop_column("libraries", "key")
