#include "app/session/session.h"

#include "app/session/background.h"
#include "app/session/demo_folder.h"
#include "core/passes/pass_file.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/windows.h"

#include <QDir>
#include <QSignalSpy>
#include <QTest>

#include <fstream>
#include <memory>
#include <set>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;
using test::openAndRead;
using test::waitFor;
using test::waitForReading;

namespace {

PassSet frameOf(int width, int height, std::initializer_list<PassKind> kinds, float value) {
    PassSet set;
    set.camera = lookingAt(V3f(0.3F, 2, 0.7F), V3f(0, 1, -8), 0.7F);
    set.view = "front";
    for (const PassKind kind : kinds) {
        Pass pass;
        pass.name = passKindInfo(kind).id;
        pass.kind = kind;
        pass.image = Image(width, height, passKindInfo(kind).channels, value);
        set.put(pass);
    }
    return set;
}

struct Reports {
    QStringList warnings;
    QStringList notes;
    explicit Reports(Session& session) {
        QObject::connect(
            &session, &Session::notified, &session,
            [this](const QString& text, bool warning) { (warning ? warnings : notes) << text; });
    }
};

}  // namespace

TEST_CASE("changes are announced once, undone and redone", "[app][session]") {
    const Folder folder;
    Session session(folder / "data");
    const QSignalSpy changed(&session, &Session::projectChanged);
    session.change("Exposure", {}, [](Project& p) { p.exposure = 1.5F; });
    session.change("Nothing", {}, [](Project&) {});
    CHECK(changed.count() == 1);
    CHECK(session.history().undoText() == "Exposure");
    session.undo();
    CHECK(session.project().exposure == 0.0F);
    session.redo();
    CHECK(session.project().exposure == 1.5F);
    CHECK(changed.count() == 3);
}

TEST_CASE("a gesture is one undo until it ends", "[app][session]") {
    const Folder folder;
    Session session(folder / "data");
    for (int i = 1; i <= 5; ++i)
        session.change("Exposure", "drag",
                       [&](Project& p) { p.exposure = 0.1F * static_cast<float>(i); });
    session.endGesture();
    session.change("Exposure", "drag", [](Project& p) { p.exposure = 3.0F; });
    session.undo();
    CHECK(session.project().exposure == Approx(0.5F));
    session.undo();
    CHECK(session.project().exposure == 0.0F);
}

TEST_CASE("passes of a picture that is open join it; those of another size begin anew",
          "[app][session]") {
    const Folder folder;
    writePasses(folder / "beauty.exr", frameOf(32, 18, {PassKind::Beauty}, 0.5F));
    writePasses(folder / "depth.exr", frameOf(32, 18, {PassKind::Depth}, 4.0F));
    writePasses(folder / "small.exr", frameOf(16, 9, {PassKind::Beauty}, 0.5F));
    Session session(folder / "data");
    REQUIRE(openAndRead(session, {folder / "beauty.exr"}));
    REQUIRE(openAndRead(session, {folder / "depth.exr"}));
    CHECK(session.passes().passes.size() == 2);
    CHECK(session.project().passFiles.size() == 2);
    REQUIRE(openAndRead(session, {folder / "small.exr"}));
    CHECK(session.passes().width == 16);
    CHECK(session.passes().passes.size() == 1);
}

TEST_CASE("a pass file joins passes that were rendered and not saved", "[app][session]") {
    const Folder folder;
    writePasses(folder / "grime.exr", frameOf(32, 18, {PassKind::Occlusion}, 0.5F));
    Session session(folder / "data");
    REQUIRE(session.save(folder / "quay.noctis"));
    session.change({}, {}, [](Project& p) { p.exposure = 1.0F; });
    session.takeRendered(frameOf(32, 18, {PassKind::Depth}, 4.0F));
    REQUIRE(openAndRead(session, {folder / "grime.exr"}));
    REQUIRE(session.passes().passes.size() == 2);
    CHECK(session.passes().find(PassKind::Depth)->image(3, 3, 0) == 4.0F);
    CHECK(session.passes().find(PassKind::Occlusion)->image(3, 3, 0) == 0.5F);
    CHECK(session.title() == "quay");
    CHECK(session.history().undoText() == "Add pass files");
    session.undo();
    session.undo();
    CHECK(session.project().exposure == 0.0F);
    REQUIRE(session.save(folder / "quay.noctis"));
    CHECK(readPasses({folder / "quay.front.passes.exr"}).passes.size() == 2);
}

TEST_CASE("what can't be opened is reported and changes nothing", "[app][session]") {
    const Folder folder;
    writePasses(folder / "beauty.exr", frameOf(32, 18, {PassKind::Beauty}, 0.5F));
    Session session(folder / "data");
    const Reports reported(session);
    REQUIRE(openAndRead(session, {folder / "beauty.exr"}));
    const Project before = session.project();
    for (const auto& path :
         {folder / "none.exr", folder.write("a.txt", "text"), folder.write("bad.exr", "no picture"),
          folder.write("bad.noctis", "{"), folder / "none.gltf"})
        REQUIRE(openAndRead(session, {path}));
    CHECK(reported.warnings.size() == 5);
    CHECK(session.project() == before);
    CHECK(session.passes().width == 32);
}

TEST_CASE("rendered passes take the place of their kind, or of all for another frame",
          "[app][session]") {
    const Folder folder;
    Session session(folder / "data");
    session.takeRendered(frameOf(32, 18, {PassKind::Depth, PassKind::Occlusion}, 1.0F));
    session.takeRendered(frameOf(32, 18, {PassKind::Occlusion}, 0.25F));
    REQUIRE(session.passes().passes.size() == 2);
    CHECK(session.passes().find(PassKind::Occlusion)->image(3, 3, 0) == 0.25F);
    CHECK(session.passes().find(PassKind::Depth)->image(3, 3, 0) == 1.0F);
    session.takeRendered(frameOf(32, 18, {PassKind::Depth}, 9.0F), Tile{0, 0, 8, 8});
    CHECK(session.passes().find(PassKind::Depth)->image(3, 3, 0) == 9.0F);
    CHECK(session.passes().find(PassKind::Depth)->image(9, 3, 0) == 1.0F);
    session.takeRendered(frameOf(64, 36, {PassKind::Depth}, 2.0F));
    CHECK(session.passes().passes.size() == 1);
}

TEST_CASE("rendered passes are saved beside the project and come back", "[app][session]") {
    const Folder folder;
    {
        Session session(folder / "data");
        session.takeRendered(frameOf(32, 18, {PassKind::Beauty, PassKind::Depth}, 2.0F));
        session.change({}, {}, [](Project& p) { p.exposure = 0.5F; });
        REQUIRE(session.save(folder / "quay.noctis"));
        CHECK_FALSE(session.history().changedSinceSaved());
    }
    CHECK(std::filesystem::exists(folder / "quay.front.passes.exr"));
    Session session(folder / "data");
    REQUIRE(openAndRead(session, {folder / "quay.noctis"}));
    CHECK(session.passes().find(PassKind::Depth)->image(5, 5, 0) == 2.0F);
    CHECK(session.project().exposure == 0.5F);
    CHECK(session.title() == "quay");
    CHECK(session.recentFiles().front().endsWith("quay.noctis"));
    // A file has the camera but for rounding: what is rendered anew joins what was read.
    session.takeRendered(frameOf(32, 18, {PassKind::Beauty}, 7.0F));
    REQUIRE(session.passes().passes.size() == 2);
    CHECK(session.passes().find(PassKind::Beauty)->image(5, 5, 0) == 7.0F);
    CHECK(session.passes().find(PassKind::Depth)->image(5, 5, 0) == 2.0F);
}

TEST_CASE("each view keeps its own frame, is saved with it, and brings it back", "[app][session]") {
    const Folder folder;
    const View front{"front", lookingAt(V3f(0, 2, 0), V3f(0, 1, -8), 0.7F)};
    const View side{"side/left", lookingAt(V3f(9, 2, 0), V3f(0, 1, 0), 0.7F)};
    const auto look = [](Session& session, const View& view) {
        session.change({}, {}, [&](Project& p) { p.view = view; });
    };
    const auto depthOf = [](Session& session) {
        return session.passes().find(PassKind::Depth)->image(1, 1, 0);
    };
    const auto scene = folder.write("leaf.obj", "v 0 0 -4\nv 1 0 -4\nv 0 1 -4\nf 1 2 3\n");
    const auto open = [&](Session& session, const std::filesystem::path& path) {
        REQUIRE(openAndRead(session, {path}));
        REQUIRE(waitFor([&] { return session.scene() != nullptr; }));
    };
    {
        Session session(folder / "data");
        open(session, scene);
        look(session, front);
        session.takeRendered(frameOf(32, 18, {PassKind::Depth}, 1.0F));
        look(session, side);
        CHECK(session.passesOf(side) == nullptr);
        CHECK(depthOf(session) == 1.0F);  // the picture stays until there is another
        PassSet other = frameOf(64, 36, {PassKind::Depth}, 2.0F);
        other.view = side.name;
        other.camera = side.camera;
        session.takeRendered(other);
        CHECK(depthOf(session) == 2.0F);
        REQUIRE(session.passesOf(front) != nullptr);
        look(session, front);
        CHECK(depthOf(session) == 1.0F);
        // A render that ends when another view is looked through is kept for its own.
        other.find("depth")->image = Image(64, 36, {"Z"}, 3.0F);
        session.takeRendered(other);
        CHECK(depthOf(session) == 1.0F);
        session.undo();
        CHECK(depthOf(session) == 3.0F);
        session.redo();
        REQUIRE(session.save(folder / "yard.noctis"));
        CHECK_FALSE(session.history().changedSinceSaved());
    }
    CHECK(std::filesystem::exists(folder / "yard.front.passes.exr"));
    CHECK(std::filesystem::exists(folder / "yard.side_left.passes.exr"));
    Session session(folder / "data");
    open(session, folder / "yard.noctis");
    CHECK(depthOf(session) == 1.0F);
    // What its passes were made of is known before their pixels are read.
    REQUIRE(session.passesOf(side) != nullptr);
    CHECK(session.passesOf(side)->width == 64);
    CHECK(session.passesOf(side)->find(PassKind::Depth)->image.empty());
    look(session, side);
    REQUIRE(waitFor([&] { return depthOf(session) == 3.0F; }));
    CHECK(session.passes().width == 64);
    look(session, front);
    CHECK(depthOf(session) == 1.0F);

    // What is rendered of a view joins its frame that was not read yet.
    Session joined(folder / "data");
    open(joined, folder / "yard.noctis");
    PassSet more = frameOf(64, 36, {PassKind::Occlusion}, 0.5F);
    more.view = side.name;
    more.camera = side.camera;
    joined.takeRendered(more);
    CHECK(depthOf(joined) == 1.0F);
    REQUIRE(waitForReading(joined));
    look(joined, side);
    CHECK(depthOf(joined) == 3.0F);
    CHECK(joined.passes().find(PassKind::Occlusion) != nullptr);

    // A frame whose file is gone is reported, and the current frame stays.
    std::filesystem::remove(folder / "yard.side_left.passes.exr");
    Session third(folder / "data");
    Reports reported(third);
    open(third, folder / "yard.noctis");
    CHECK(third.passesOf(side) == nullptr);
    look(third, side);
    REQUIRE(
        waitFor([&] { return reported.warnings.join(' ').contains("yard.side_left.passes.exr"); }));
    CHECK(depthOf(third) == 1.0F);
    const auto warnings = reported.warnings.size();
    third.change({}, {}, [](Project& p) { p.exposure = 1.0F; });
    CHECK(reported.warnings.size() == warnings);  // once
    PassSet anew = frameOf(64, 36, {PassKind::Depth}, 4.0F);
    anew.view = side.name;
    anew.camera = side.camera;
    third.takeRendered(anew);
    CHECK(depthOf(third) == 4.0F);
}

TEST_CASE("unsaved work is kept and offered after a crash, and forgotten when saved",
          "[app][session]") {
    const Folder folder;
    {
        Session session(folder / "data");
        session.change({}, {}, [](Project& p) { p.exposure = 2.5F; });
        REQUIRE(waitFor([&] { return !Session(folder / "data").earlier().empty(); }));
    }
    Session session(folder / "data");
    REQUIRE(session.earlier().size() == 1);
    session.returnTo(session.earlier().front());
    REQUIRE(waitForReading(session));
    CHECK(session.project().exposure == 2.5F);
    CHECK(session.file().empty());
    REQUIRE(session.save(folder / "kept.noctis"));
    CHECK(Session(folder / "data").earlier().empty());
}

TEST_CASE("frames that were rendered and not saved outlive a crash", "[app][session]") {
    const Folder folder;
    const View side{"side", lookingAt(V3f(9, 2, 0), V3f(0, 1, 0), 0.7F)};
    PassSet other = frameOf(64, 36, {PassKind::Depth}, 3.0F);
    other.view = side.name;
    other.camera = side.camera;
    const auto scene = folder.write("leaf.obj", "v 0 0 -4\nv 1 0 -4\nv 0 1 -4\nf 1 2 3\n");
    const auto project = folder / "work.noctis";
    {
        Session session(folder / "data");
        REQUIRE(openAndRead(session, {scene}));
        REQUIRE(waitFor([&] { return session.scene() != nullptr; }));
        session.takeRendered(other);
        REQUIRE(session.save(project));
        CHECK_FALSE(session.unsaved());
        session.takeRendered(frameOf(32, 18, {PassKind::Depth}, 1.0F));
        CHECK(session.unsaved());
        other.find("depth")->image = Image(64, 36, {"Z"}, 4.0F);
        session.takeRendered(other);
        // Both are in files, and the project that is kept names them.
        REQUIRE(waitFor([&] {
            const auto left = Session(folder / "data").earlier();
            if (left.empty())
                return false;
            const Project kept = openProject(left.front().kept, stepCatalogue());
            return kept.passFiles.size() == 1 && kept.viewFiles.size() == 1 &&
                   kept.passFiles.front().parent_path().parent_path() == folder / "data" / "frames";
        }));
        CHECK(readPasses({folder / "work.side.passes.exr"}).find(PassKind::Depth)->image(1, 1, 0) ==
              3.0F);
    }
    Session session(folder / "data");
    REQUIRE(session.earlier().size() == 1);
    session.returnTo(session.earlier().front());
    REQUIRE(waitForReading(session));
    REQUIRE(waitFor([&] { return session.scene() != nullptr; }));
    CHECK(session.file() == project);
    CHECK(session.unsaved());
    const auto depthFrom = [&](const char* name, const Camera& camera) {
        session.change({}, {}, [&](Project& p) { p.view = View{name, camera}; });
        REQUIRE(waitFor([&] { return session.passes().view == name; }));
        return session.passes().find(PassKind::Depth)->image(1, 1, 0);
    };
    CHECK(depthFrom("side", side.camera) == 4.0F);
    REQUIRE(session.save(project));
    CHECK_FALSE(session.unsaved());
    CHECK(Session(folder / "data").earlier().empty());
    // The frame that was only in its kept file is beside the project now.
    CHECK(readPasses({folder / "work.front.passes.exr"}).find(PassKind::Depth)->image(1, 1, 0) ==
          1.0F);
    CHECK(depthFrom("front", *frameOf(1, 1, {PassKind::Depth}, 0).camera) == 1.0F);
}

TEST_CASE("what is unsaved when it ends is offered, and what is saved leaves nothing",
          "[app][session]") {
    const Folder folder;
    {
        Session session(folder / "data");
        session.takeRendered(frameOf(32, 18, {PassKind::Depth}, 1.0F));
        CHECK_NOTHROW(session.keepForNextTime());
    }
    Session session(folder / "data");
    REQUIRE(session.earlier().size() == 1);
    session.returnTo(session.earlier().front());
    REQUIRE(waitForReading(session));
    CHECK(session.passes().find(PassKind::Depth)->image(1, 1, 0) == 1.0F);
    REQUIRE(session.save(folder / "kept.noctis"));
    CHECK_NOTHROW(session.keepForNextTime());
    CHECK(Session(folder / "data").earlier().empty());
    CHECK(readPasses({folder / "kept.front.passes.exr"}).find(PassKind::Depth) != nullptr);
}

TEST_CASE("what an earlier run left and can't be read leaves the project as it is",
          "[app][session]") {
    const Folder folder;
    Session session(folder / "data");
    REQUIRE(session.save(folder / "quay.noctis"));
    const Reports reported(session);
    session.returnTo({folder.write("broken.noctis-autosave", "{"), folder / "other.noctis"});
    REQUIRE(waitForReading(session));
    CHECK(reported.warnings.size() == 1);
    CHECK(session.file() == folder / "quay.noctis");
}

TEST_CASE("what was not saved when another project was opened can be returned to",
          "[app][session]") {
    const Folder folder;
    writePasses(folder / "other.exr", frameOf(16, 9, {PassKind::Beauty}, 0.5F));
    Session session(folder / "data");
    std::optional<UnsavedProject> left;
    QObject::connect(&session, &Session::leftUnsaved,
                     [&](const QString&, const UnsavedProject& project) { left = project; });
    REQUIRE(openAndRead(session, {folder / "other.exr"}));
    CHECK_FALSE(left);  // there was nothing to leave
    session.newProject();
    CHECK_FALSE(left);
    session.takeRendered(frameOf(32, 18, {PassKind::Depth}, 1.0F));
    session.change({}, {}, [](Project& p) { p.exposure = 1.5F; });
    REQUIRE(openAndRead(session, {folder / "other.exr"}));
    REQUIRE(left);
    CHECK(session.passes().width == 16);
    session.returnTo(*std::exchange(left, std::nullopt));
    REQUIRE(waitForReading(session));
    CHECK_FALSE(left);  // the other was as it is in its file
    CHECK(session.project().exposure == 1.5F);
    CHECK(session.passes().find(PassKind::Depth)->image(1, 1, 0) == 1.0F);
    CHECK(session.unsaved());
    CHECK_FALSE(session.recentFiles().join(' ').contains("autosave"));
}

TEST_CASE("what earlier runs left stays while other work goes on", "[app][session]") {
    const Folder folder;
    const auto work = folder / "work.noctis";
    const auto exposuresLeft = [&] {
        std::set<float> exposures;
        const Session next(folder / "data");
        for (const UnsavedProject& left : next.earlier())
            exposures.insert(openProject(left.kept, stepCatalogue()).exposure);
        return exposures;
    };
    using Exposures = std::set<float>;
    {
        Session session(folder / "data");
        REQUIRE(session.save(work));
        session.change({}, {}, [](Project& p) { p.exposure = 2.5F; });
        CHECK_NOTHROW(session.keepForNextTime());
    }
    {
        // Opened anew without it, changed and saved, it is still there, and offered again.
        Session session(folder / "data");
        REQUIRE(session.earlier().size() == 1);
        CHECK(session.earlier().front().file == work);
        REQUIRE(openAndRead(session, {work}));
        session.change({}, {}, [](Project& p) { p.exposure = 1.0F; });
        REQUIRE(waitFor([&] { return exposuresLeft() == Exposures{1.0F, 2.5F}; }));
        REQUIRE(session.save(work));
        CHECK_NOTHROW(session.keepForNextTime());
    }
    CHECK(exposuresLeft() == Exposures{2.5F});
    {
        // It also stays if this run, too, ends with unsaved work, of the same project or none.
        Session session(folder / "data");
        session.change({}, {}, [](Project& p) { p.exposure = 4.0F; });
        REQUIRE(openAndRead(session, {work}));
        session.change({}, {}, [](Project& p) { p.exposure = 3.0F; });
        CHECK_NOTHROW(session.keepForNextTime());
    }
    CHECK(exposuresLeft() == Exposures{2.5F, 3.0F, 4.0F});
    {
        Session session(folder / "data");
        for (const UnsavedProject& left : std::vector(session.earlier()))
            if (openProject(left.kept, stepCatalogue()).exposure == 2.5F)
                session.returnTo(left);
            else
                session.decline(left);
        REQUIRE(waitForReading(session));
        CHECK(session.project().exposure == 2.5F);
        CHECK(session.file() == work);
        CHECK(session.earlier().empty());
        CHECK(exposuresLeft() == Exposures{2.5F});  // until it is saved, or left
        REQUIRE(openAndRead(session, {work}));
        CHECK(session.project().exposure == 1.0F);
    }
    CHECK(exposuresLeft() == Exposures{2.5F});
    Session session(folder / "data");
    session.returnTo(session.earlier().front());
    REQUIRE(waitForReading(session));
    REQUIRE(session.save(work));
    CHECK(exposuresLeft().empty());
}

TEST_CASE("what another run has open is not offered", "[app][session]") {
    const Folder folder;
    const auto list = [&](int run) {
        writeTextFile(folder / "data" / "unsaved-projects",
                      std::to_string(run) + '\n' + (folder / "a.noctis-autosave").string() +
                          "\n\n");
    };
    folder.write("a.noctis-autosave", "{}");
    makeFolder(folder / "data");
    constexpr int kOther = 2147483000;
    list(kOther);
    auto other =
        std::make_unique<RunLock>(folder / "data" / "frames" / (std::to_string(kOther) + ".lock"));
    Session session(folder / "data");
    CHECK(session.earlier().empty());
    session.change({}, {}, [](Project& p) { p.exposure = 2.5F; });
    CHECK_NOTHROW(session.keepForNextTime());
    CHECK(readTextFile(folder / "data" / "unsaved-projects").starts_with("2147483000\n"));
    other.reset();
    list(kOther);
    CHECK(Session(folder / "data").earlier().size() == 1);
    std::filesystem::remove(folder / "a.noctis-autosave");
    CHECK(Session(folder / "data").earlier().empty());
    CHECK(readTextFile(folder / "data" / "unsaved-projects").empty());
    // A disk that is not there may come back.
    writeTextFile(folder / "data" / "unsaved-projects",
                  "2147483000\n/no/disk/a.noctis-autosave\n\n");
    CHECK(Session(folder / "data").earlier().empty());
    CHECK(readTextFile(folder / "data" / "unsaved-projects").starts_with("2147483000\n"));
}

TEST_CASE("what is unsaved and can't be kept is not left for another project", "[app][session]") {
    const Folder folder;
    writePasses(folder / "other.exr", frameOf(16, 9, {PassKind::Beauty}, 0.5F));
    Session session("/proc/noctis");
    const Reports reported(session);
    session.change({}, {}, [](Project& p) { p.exposure = 1.5F; });
    REQUIRE(openAndRead(session, {folder / "other.exr"}));
    session.newProject();
    CHECK(reported.warnings.size() == 2);
    CHECK(session.project().exposure == 1.5F);
    CHECK(session.passes().empty());
}

TEST_CASE("kept frames of runs that ended are cleared away, those of others are not",
          "[app][session]") {
    const Folder folder;
    const auto ended = folder / "frames" / "2147483000.1" / "0.exr";
    KeptFrames frames(folder / "frames");
    const auto own = frames.fileOf("front");
    for (const auto& file : {ended, own}) {
        std::filesystem::create_directories(file.parent_path());
        std::ofstream(file) << "x";
        CHECK(frames.holds(file));
    }
    CHECK_FALSE(frames.holds(folder / "front.exr"));
    frames.clearEnded();
    CHECK_FALSE(std::filesystem::exists(ended));
    CHECK(std::filesystem::exists(own));
    frames.nextProject();
    CHECK(frames.fileOf("front") != own);
    CHECK(frames.fileOf("front") != frames.fileOf("side"));
}

TEST_CASE("mist follows its settings as long as there is depth", "[app][session]") {
    const Folder folder;
    Session session(folder / "data");
    session.takeRendered(frameOf(32, 18, {PassKind::Depth}, 30.0F));
    session.change({}, {}, [](Project& p) {
        p.passes.push_back(passRequest(PassKind::Mist));
        applyPassSetting(p.passes, "mist.begins=10");
        applyPassSetting(p.passes, "mist.full=50");
    });
    const auto becomes = [&](float wanted) {
        return waitFor([&] {
            const Pass* mist = session.passes().find(PassKind::Mist);
            return mist != nullptr && mist->image(1, 1, 0) == Approx(wanted);
        });
    };
    CHECK(becomes(0.5F));
    session.change({}, {}, [](Project& p) { applyPassSetting(p.passes, "mist.full=30"); });
    CHECK(becomes(1.0F));
    session.undo();
    CHECK(becomes(0.5F));
    // Also in the file, if it moved after its frame was kept.
    REQUIRE(waitFor([&] { return !Session(folder / "data").earlier().empty(); }));
    // Saving doesn't wait for the mist: it is as the project says.
    session.redo();
    REQUIRE(session.save(folder / "quay.noctis"));
    CHECK(readPasses({folder / "quay.front.passes.exr"}).find(PassKind::Mist)->image(1, 1, 0) ==
          1.0F);
}

TEST_CASE("a piece of background work gives way to the next and drops its result",
          "[app][session]") {
    QObject owner;
    Background background(&owner);
    int given = 0;
    QString failure;
    const auto work = [&](int value, int ms) {
        background.start(
            [&given, value, ms](const std::stop_token& stop) -> std::function<void()> {
                for (int i = 0; i < ms && !stop.stop_requested(); ++i)
                    QTest::qSleep(1);
                return [&given, value] { given = value; };
            },
            [&](const QString& text) { failure = text; });
    };
    work(1, 2000);
    work(2, 5);
    REQUIRE(waitFor([&] { return !background.running(); }));
    CHECK(given == 2);
    background.start(
        [](const std::stop_token&) -> std::function<void()> {
            throw std::runtime_error("no room on the disk");
        },
        [&](const QString& text) { failure = text; });
    REQUIRE(waitFor([&] { return !failure.isEmpty(); }));
    CHECK(failure == "no room on the disk");
}

TEST_CASE("the demo stays as it ships: what is made of it is kept and saved elsewhere",
          "[app][session]") {
    const Folder folder;
    const auto demo = demoFolder() / "saltern_quay.noctis";
    const auto inDemo = [] {
        std::set<std::filesystem::path> files;
        for (const auto& each : std::filesystem::directory_iterator(demoFolder()))
            files.insert(each.path());
        return files;
    };
    const auto shipped = inDemo();
    {
        Session session(folder / "data");
        REQUIRE(openAndRead(session, {demo}));
        CHECK_FALSE(session.passes().empty());
        CHECK(session.title() == "saltern_quay");
        CHECK(session.file().empty());
        CHECK(session.folderForFiles() == QDir::homePath());
        session.change({}, {}, [](Project& p) { p.exposure = 2.5F; });
        CHECK_NOTHROW(session.keepForNextTime());
    }
    CHECK(inDemo() == shipped);
    Session session(folder / "data");
    REQUIRE(session.earlier().size() == 1);
    session.returnTo(session.earlier().front());
    REQUIRE(waitForReading(session));
    CHECK(session.project().exposure == 2.5F);
    CHECK_FALSE(session.passes().empty());
    REQUIRE(session.save(folder / "mine.noctis"));
    CHECK(session.file() == folder / "mine.noctis");
    CHECK(session.folderForFiles().toStdString() == folder.path().string());
    CHECK(inDemo() == shipped);
}

TEST_CASE("a project or scene opens alone, and says that the other files were left out",
          "[app][session]") {
    const Folder folder;
    Session session(folder / "data");
    QStringList reported;
    QObject::connect(&session, &Session::notified, [&](const QString& text) { reported << text; });
    const auto demo = demoFolder() / "saltern_quay.noctis";
    REQUIRE(openAndRead(session, {demo, demoFolder() / "depth.exr"}));
    CHECK(session.title() == "saltern_quay");
    REQUIRE(reported.size() == 1);
    CHECK(reported.front().contains("saltern_quay.noctis is open; the other files are not"));
    REQUIRE(openAndRead(session, {demo}));
    CHECK(reported.size() == 1);
    // Of a scene and pictures, the pictures are its textures; of two scenes, one is left out.
    REQUIRE(openAndRead(session, {demoFolder() / "tide_stone.gltf", demoFolder() / "depth.exr"}));
    CHECK(reported.filter("the other files").size() == 1);
    REQUIRE(openAndRead(session,
                        {demoFolder() / "tide_stone.gltf", demoFolder() / "brass_heron.gltf"}));
    REQUIRE(reported.filter("the other files").size() == 2);
    CHECK(reported.filter("the other files").back().startsWith("tide_stone.gltf"));
}

TEST_CASE("two windows on one project keep their work apart, and none saves over the other's",
          "[app][session][project]") {
    const Folder folder;
    Session one(folder / "data");
    Session other(folder / "data");
    const auto file = folder / "shot.noctis";
    one.change("Exposure", {}, [](Project& p) { p.exposure = 1.0F; });
    REQUIRE(one.save(file));
    REQUIRE(openAndRead(other, {file}));
    one.change("Exposure", {}, [](Project& p) { p.exposure = 2.0F; });
    other.change("Exposure", {}, [](Project& p) { p.exposure = 3.0F; });
    const auto keptFiles = [&] {
        std::set<std::filesystem::path> kept;
        for (const auto& entry : std::filesystem::directory_iterator(folder.path()))
            if (entry.path().extension() == ".noctis-autosave")
                kept.insert(entry.path());
        return kept;
    };
    REQUIRE(waitFor([&] { return keptFiles().size() == 2; }));

    const auto exposureIn = [&] { return openProject(file, stepCatalogue()).exposure; };
    const QSignalSpy asked(&other, &Session::fileIsAnother);
    REQUIRE(one.save(file));
    CHECK(exposureIn() == 2.0F);
    CHECK_FALSE(other.save(file));
    CHECK(asked.count() == 1);
    CHECK(exposureIn() == 2.0F);
    CHECK(other.unsaved());
    CHECK(other.save(folder / "mine.noctis"));
    CHECK(exposureIn() == 2.0F);
    CHECK(keptFiles().empty());

    // The first one may go on, and may be replaced if that is wanted.
    one.change("Exposure", {}, [](Project& p) { p.exposure = 4.0F; });
    CHECK(one.save(file));
    REQUIRE(openAndRead(other, {file}));
    one.change("Exposure", {}, [](Project& p) { p.exposure = 5.0F; });
    CHECK(one.save(file));
    other.change("Exposure", {}, [](Project& p) { p.exposure = 6.0F; });
    CHECK_FALSE(other.save(file));
    CHECK(other.saveOver(file));
    CHECK(exposureIn() == 6.0F);
    CHECK(other.save(file));
}

TEST_CASE("a project that is gone or damaged is asked about only where something would be lost",
          "[app][session][project]") {
    const Folder folder;
    Session session(folder / "data");
    const auto file = folder / "shot.noctis";
    REQUIRE(session.save(file));
    session.change("Exposure", {}, [](Project& p) { p.exposure = 1.0F; });
    std::filesystem::remove(file);
    CHECK(session.save(file));
    session.change("Exposure", {}, [](Project& p) { p.exposure = 2.0F; });
    folder.write("shot.noctis", "somebody's notes");
    CHECK_FALSE(session.save(file));
    CHECK(readTextFile(file) == "somebody's notes");
}

TEST_CASE("a project never replaces what it is made from", "[app][session][project]") {
    const Folder folder;
    writePasses(folder / "f.exr", frameOf(8, 8, {PassKind::Beauty}, 0.5F));
    std::filesystem::create_symlink(folder / "f.exr", folder / "link.noctis");
    Session session(folder / "data");
    REQUIRE(openAndRead(session, {folder / "f.exr"}));
    CHECK_FALSE(session.save(folder / "link.noctis"));
    CHECK(readPasses({folder / "f.exr"}).passes.size() == 1);
}

TEST_CASE("rules for passes that can't be read harm no start, and aren't lost", "[app][session]") {
    const Folder folder;
    std::filesystem::create_directories(folder / "data");
    const std::string deep(100'000, '[');
    folder.write("data/pass-rules.json", deep);
    Session session(folder / "data");
    CHECK(session.rules().all().empty());
    CHECK(readTextFile(folder / "data" / "pass-rules.json.damaged") == deep);
}
