#pragma once

#include <Imath/ImathMatrix.h>
#include <Imath/ImathVec.h>

namespace noctis {

using Imath::M44f;
using Imath::V2f;
using Imath::V3f;

/// Where a picture was taken from: looks along its own -Z, +X right and +Y up in the frame.
/// Units    metres, radians. Matrices act on row vectors, as Imath's do.
struct Camera {
    M44f cameraToWorld{};
    float yfovRadians = 0.7F;         ///< full vertical angle, perspective only
    float orthographicHeight = 0.0F;  ///< m; > 0 makes the view orthographic
    float nearDistance = 0.05F;       ///< m, for files that want a clip range
    float farDistance = 10000.0F;     ///< m

    bool operator==(const Camera&) const = default;

    [[nodiscard]] bool orthographic() const noexcept { return orthographicHeight > 0.0F; }
    [[nodiscard]] V3f position() const { return cameraToWorld.translation(); }
};

/// A ray as cast through a point of the frame. direction is of unit length; planarPerDistance is
/// the cosine to the camera axis, so depth = distance * planarPerDistance.
struct CameraRay {
    V3f origin;
    V3f direction;
    float planarPerDistance = 1.0F;
};

/// The ray through frame point (x, y), in pixels from the top left of a width x height frame.
CameraRay cameraRay(const Camera& camera, float x, float y, int width, int height);

/// The rays of neighbouring pixels of a row: that of pixel i begins at origin + i aside and goes along way + i step,
/// whose length is 1 along the view.
struct RowOfRays {
    V3f origin{0.0F};
    V3f aside{0.0F};
    V3f way{0.0F};
    V3f step{0.0F};
};

/// The same for many points of one frame.
class FrameRays {
public:
    FrameRays(const Camera& camera, int width, int height);
    [[nodiscard]] CameraRay through(float x, float y) const;
    /// From the middle of pixel (x, y) on.
    [[nodiscard]] RowOfRays row(int x, int y) const;

private:
    Camera m_camera;
    float m_width;
    float m_height;
    float m_half;  ///< of the frame's height at 1 m, or of a parallel view
};

/// Where a world point falls in the frame: x, y in pixels, z = planar depth in metres.
V3f project(const Camera& camera, const V3f& world, int width, int height);

/// The full horizontal angle; aspect is width / height of the frame.
float xfovOf(const Camera& camera, float aspect);
/// The vertical angle for a horizontal one.
float yfovFromXfov(float xfovRadians, float aspect);
/// The focal length, mm, that sees the camera's angle on a sensor of that width.
float focalLengthOf(const Camera& camera, float sensorMillimetres, float aspect);
/// The vertical angle of a focal length.
float yfovFromLens(float focalMillimetres, float sensorMillimetres, float aspect);

/// World to normalised device coordinates (-1..1, right-handed, OpenGL's), for EXR's worldToNDC.
M44f worldToNdc(const Camera& camera, float aspect);

/// A camera from worldToCamera and worldToNDC as EXR files carry them.
Camera cameraFromMatrices(const M44f& worldToCamera, const M44f& worldToNdc);

constexpr float kAssumedYfovRadians = 0.6981317F;  ///< 40 degrees

/// What is taken where a file has no camera: level, at the origin.
Camera assumedCamera(float yfovRadians = kAssumedYfovRadians);

/// A camera at eye that looks at target with +Y up.
Camera lookingAt(const V3f& eye, const V3f& target, float yfovRadians);

}  // namespace noctis
