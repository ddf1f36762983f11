#pragma once

namespace noctis {

/// A light without size, as LightResponse has it, in plain numbers.
struct RelightRow {
    bool far;  ///< a sun: place is its direction, unit
    bool spot;
    float place[3];
    float axis[3];  ///< of a spot, towards it, unit
    float inner;    ///< radians
    float outer;
    float colour[3];
    float strength;
    float highlight;
    bool parallel;  ///< an orthographic view: eye is the direction to the viewer, unit
    float eye[3];
    float guessed;    ///< the luminance of a surface whose colour is guessed
    float mirror;     ///< straight on, of a surface whose mirror is not known
    float roughness;  ///< and its roughness
};

/// What is read at the pixels; none where the pass is missing.
struct RelightPlanes {
    const float* position[3];
    const float* normal[3];
    const float* albedo[3];
    const float* mirror[3];
    const float* roughness;
    const float* open;
    const float* alpha;
};

/// Adds the light to as many pixels of a run as fill whole vectors, and returns how many those are.
int relightRow(const RelightRow& light, const RelightPlanes& planes, float* r, float* g, float* b,
               int count) noexcept;

}  // namespace noctis
