"""What of a glTF file is read, field by field, with bounds; other fields are passed over."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

Index = Annotated[int, Field(ge=0, le=2**31)]
Finite = Annotated[float, Field(allow_inf_nan=False)]
Name = Annotated[str, Field(max_length=10_000)]
Component = Literal[5120, 5121, 5122, 5123, 5125, 5126]
Kind = Literal["SCALAR", "VEC2", "VEC3", "VEC4", "MAT2", "MAT3", "MAT4"]


class GltfEntry(BaseModel):
    """Passes over what is not known."""

    model_config = ConfigDict(extra="ignore", allow_inf_nan=False, strict=True)


class Asset(GltfEntry):
    """The version of the format."""

    version: Name


class SparseIndices(GltfEntry):
    """Which numbers are given apart."""

    bufferView: Index
    byteOffset: Index = 0
    componentType: Literal[5121, 5123, 5125]


class SparseValues(GltfEntry):
    """What these numbers are."""

    bufferView: Index
    byteOffset: Index = 0


class SparseNumbers(GltfEntry):
    """Numbers that are given apart."""

    count: Index
    indices: SparseIndices
    values: SparseValues


class Accessor(GltfEntry):
    """An array in a buffer."""

    bufferView: Index | None = None
    byteOffset: Index = 0
    componentType: Component
    normalized: bool = False
    count: Annotated[int, Field(ge=1, le=2**31)]
    type: Kind
    sparse: SparseNumbers | None = None


class BufferView(GltfEntry):
    """A piece of a buffer."""

    buffer: Index
    byteOffset: Index = 0
    byteLength: Index
    byteStride: Annotated[int, Field(ge=4, le=252)] | None = None


class Buffer(GltfEntry):
    """Bytes: of the file itself, or within a URI."""

    byteLength: Index
    uri: str | None = None


class NodeEntry(GltfEntry):
    """A node: a matrix, or translation, rotation and scale."""

    name: Name | None = None
    children: list[Index] = []
    matrix: Annotated[list[Finite], Field(min_length=16, max_length=16)] | None = None
    translation: Annotated[list[Finite], Field(min_length=3, max_length=3)] = [0.0, 0.0, 0.0]
    rotation: Annotated[list[Finite], Field(min_length=4, max_length=4)] = [0.0, 0.0, 0.0, 1.0]
    scale: Annotated[list[Finite], Field(min_length=3, max_length=3)] = [1.0, 1.0, 1.0]
    mesh: Index | None = None
    skin: Index | None = None
    extras: Any = None


class MovedNode(GltfEntry):
    """What an animation's channel moves."""

    node: Index | None = None
    path: Name


class Channel(GltfEntry):
    """A sampler on a target."""

    sampler: Index
    target: MovedNode


class TimesAndValues(GltfEntry):
    """Times and values."""

    input: Index
    output: Index
    interpolation: Literal["LINEAR", "STEP", "CUBICSPLINE"] = "LINEAR"


class Told(GltfEntry):
    """What Bindu tells of a clip beside its motion."""

    fps: Annotated[float, Field(gt=0.01, le=10_000.0)] | None = None
    first: Annotated[float, Field(ge=-1e6, le=1e6)] = 0.0
    frames: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    channels: dict[Name, Annotated[list[Finite], Field(max_length=1_000_000)]] = {}
    events: list[tuple[Finite, Name]] = []


class AnimationEntry(GltfEntry):
    """A clip."""

    name: Name | None = None
    channels: Annotated[list[Channel], Field(max_length=100_000)] = []
    samplers: Annotated[list[TimesAndValues], Field(max_length=100_000)] = []
    extras: Any = None

    @property
    def bindu(self) -> Told:
        """What Bindu told; nothing where another program wrote the file."""
        try:
            extras = self.extras if isinstance(self.extras, dict) else {}
            return Told.model_validate(extras, strict=False)
        except ValidationError:
            return Told()


class Primitive(GltfEntry):
    """A piece of a mesh."""

    attributes: dict[Name, Index] = {}
    indices: Index | None = None
    mode: int = 4
    targets: Annotated[list[dict[Name, Index]], Field(max_length=1000)] = []


class MeshEntry(GltfEntry):
    """A mesh; the names of its blend shapes stand where most programs write them."""

    name: Name | None = None
    primitives: Annotated[list[Primitive], Field(max_length=10_000)] = []
    extras: Any = None

    def names(self) -> list[str]:
        """The names of its blend shapes, as far as it tells them."""
        told = self.extras.get("targetNames") if isinstance(self.extras, dict) else None
        return [str(one)[:80] for one in told] if isinstance(told, list) else []


class SkinEntry(GltfEntry):
    """Joints, and from the mesh into each at rest."""

    joints: Annotated[list[Index], Field(min_length=1, max_length=5_000)]
    inverseBindMatrices: Index | None = None


class SceneRoots(GltfEntry):
    """Which nodes stand at the top."""

    nodes: list[Index] = []


class Document(GltfEntry):
    """A whole file."""

    asset: Asset
    scenes: list[SceneRoots] = []
    nodes: list[NodeEntry] = []
    animations: Annotated[list[AnimationEntry], Field(max_length=1000)] = []
    accessors: Annotated[list[Accessor], Field(max_length=1_000_000)] = []
    bufferViews: Annotated[list[BufferView], Field(max_length=1_000_000)] = []
    buffers: Annotated[list[Buffer], Field(max_length=1000)] = []
    meshes: Annotated[list[MeshEntry], Field(max_length=10_000)] = []
    skins: Annotated[list[SkinEntry], Field(max_length=10_000)] = []
    cameras: list[Any] = []
    extensionsUsed: list[str] = []
    extensionsRequired: list[str] = []
