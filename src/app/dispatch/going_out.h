#pragma once

#include "core/dispatch/job.h"

#include <QString>

#include <vector>

namespace noctis {

class Session;

/// Something that can go out of what is open.
struct GoingOut {
    QString id;  ///< lasting
    QString title;
    QString detail;  ///< "quay view", "36 frames"
    QString help;
    Job job;  ///< as it is offered at first; without id
};

/// All of it, from what there is.
std::vector<GoingOut> whatGoesOut(const Session& session);

/// The project's file, or the name that it would have.
std::filesystem::path projectNameOf(const Session& session);

/// A view that a job can be of.
struct ViewGoingOut {
    std::string name;
    bool hasPasses = false;
};
/// Those of the project and its scene; the one whose frame is shown first.
std::vector<ViewGoingOut> viewsGoingOut(const Session& session);

/// The names of the passes that a job of the shown frame has.
std::vector<std::string> passesGoingOut(const Session& session);

}  // namespace noctis
