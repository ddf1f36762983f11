#pragma once

#include "core/scene/scene.h"

namespace noctis {

/// Gives a mesh the normals that its file lacks: smooth over what turns by less than the crease, with an edge
/// elsewhere, and the same on both sides of a seam of texture.
/// Source   the mean of the triangles around a place, weighted by their angles there (Thuermer and Wuethrich 1998,
///          Computing Vertex Normals from Polygonal Facets).
void addSmoothNormals(Mesh& mesh, float creaseDegrees);

/// Gives a mesh with normals and texture places the tangents that its file lacks, along u.
/// Source   Lengyel 2001, Computing Tangent Space Basis Vectors for an Arbitrary Mesh; mirrored texture apart, as
///          in Mikkelsen 2008, Simulation of Wrinkled Surfaces Revisited.
void addTangents(Mesh& mesh);

// Both split vertices where triangles need different ones, and leave out those that no triangle uses.

}  // namespace noctis
