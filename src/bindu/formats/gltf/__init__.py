"""glTF 2.0: nodes and their animations, surfaces with skin and blend shapes."""

from bindu.formats.gltf.reading import read_gltf
from bindu.formats.gltf.writing import write_gltf

__all__ = ["read_gltf", "write_gltf"]
