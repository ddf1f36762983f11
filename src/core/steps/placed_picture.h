#pragma once

#include "core/image/image.h"
#include "core/image/run_context.h"
#include "core/settings/value.h"

namespace noctis {

/// The corners of a picture that is as large as fills a frame times scale, about its middle; px.
PlaceList fillingCorners(const Image& picture, int width, int height, float scale = 1.0F);

/// A picture drawn into a frame: R G B A, associated, with an even scale so that it fills the frame, or with its
/// corners at four places of it, px, from its top left on clockwise.
/// Exact    places within 0.05 px.
/// Errors   Error(BadSetting) unless there are none or four corners of a convex quadrilateral in that order.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
/// Source   the projective map of Heckbert 1989; what is drawn smaller is averaged first.
Image placedPicture(const Image& picture, int width, int height, const PlaceList& corners,
                    const RunContext& run);

}  // namespace noctis
