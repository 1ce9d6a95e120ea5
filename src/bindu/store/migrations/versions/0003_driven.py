"""Driven keys."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGTEXT

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

OPTIONS = {"mysql_charset": "utf8mb4", "mysql_collate": "utf8mb4_bin"}


def upgrade() -> None:
    scene = sa.ForeignKey("scenes.id", ondelete="CASCADE")
    op.create_table(
        "driven",
        sa.Column("scene_id", sa.Integer, scene, primary_key=True, autoincrement=False),
        sa.Column("thing", sa.String(100), primary_key=True),
        sa.Column("data", LONGTEXT, nullable=False),
        **OPTIONS,
    )


def downgrade() -> None:
    op.drop_table("driven")
