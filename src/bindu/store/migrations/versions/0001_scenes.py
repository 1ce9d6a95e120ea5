"""Scenes, their things, and edits."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGTEXT

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None

OPTIONS = {"mysql_charset": "utf8mb4", "mysql_collate": "utf8mb4_bin"}
THINGS = ("parts", "channels", "curves", "steps")


def _of_scene() -> sa.Column:
    scene = sa.ForeignKey("scenes.id", ondelete="CASCADE")
    return sa.Column("scene_id", sa.Integer, scene, primary_key=True, autoincrement=False)


def upgrade() -> None:
    op.create_table(
        "scenes",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("fps", sa.Double, nullable=False),
        sa.Column("first", sa.Integer, nullable=False),
        sa.Column("last", sa.Integer, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("changed", sa.DateTime, nullable=False),
        **OPTIONS,
    )
    for name in THINGS:
        op.create_table(
            name,
            _of_scene(),
            sa.Column("thing", sa.String(100), primary_key=True),
            sa.Column("data", LONGTEXT, nullable=False),
            **OPTIONS,
        )
    op.create_table(
        "edits",
        _of_scene(),
        sa.Column("revision", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("label", sa.String(300), nullable=False),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("target", sa.Integer),
        sa.Column("touched", LONGTEXT, nullable=False),
        sa.Column("patch", LONGTEXT, nullable=False),
        sa.Column("made", sa.DateTime, nullable=False),
        **OPTIONS,
    )
    op.create_index("edits_by_state", "edits", ["scene_id", "state", "revision"])


def downgrade() -> None:
    for name in ("edits", *THINGS, "scenes"):
        op.drop_table(name)
