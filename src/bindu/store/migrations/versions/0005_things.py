"""One table for all things of a scene that are neither parts nor curves."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGTEXT

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

OPTIONS = {"mysql_charset": "utf8mb4", "mysql_collate": "utf8mb4_bin"}
KINDS = (
    "channels",
    "steps",
    "layers",
    "sets",
    "markers",
    "driven",
    "probes",
    "leads",
    "what_ifs",
)


def _columns() -> list[sa.Column]:
    scene = sa.ForeignKey("scenes.id", ondelete="CASCADE")
    return [
        sa.Column("scene_id", sa.Integer, scene, primary_key=True, autoincrement=False),
        sa.Column("thing", sa.String(100), primary_key=True),
        sa.Column("data", LONGTEXT, nullable=False),
    ]


def upgrade() -> None:
    # MariaDB keeps each statement by itself, so this goes on where an upgrade was cut off: things
    # are filled under another name, and the old tables go only when that is done.
    if "things" not in sa.inspect(op.get_bind()).get_table_names():
        op.execute("DROP TABLE IF EXISTS things_filled")
        kind = sa.Column("kind", sa.String(20), primary_key=True)
        op.create_table("things_filled", *_columns(), kind, **OPTIONS)
        for name in KINDS:
            op.execute(
                "INSERT INTO things_filled (scene_id, kind, thing, data) "
                f"SELECT scene_id, '{name}', thing, data FROM {name}"
            )
        op.rename_table("things_filled", "things")
    for name in KINDS:
        op.execute(f"DROP TABLE IF EXISTS {name}")


def downgrade() -> None:
    for name in KINDS:
        op.create_table(name, *_columns(), **OPTIONS)
        op.execute(
            f"INSERT INTO {name} (scene_id, thing, data) "
            f"SELECT scene_id, thing, data FROM things WHERE kind = '{name}'"
        )
    op.drop_table("things")
