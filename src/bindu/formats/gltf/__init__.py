"""glTF 2.0: nodes and their animations, surfaces with skin and blend shapes."""

from bindu.formats.gltf.reading import GltfFile, read_gltf, read_gltf_file
from bindu.formats.gltf.writing import write_gltf

__all__ = ["GltfFile", "read_gltf", "read_gltf_file", "write_gltf"]
