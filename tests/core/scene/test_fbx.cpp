#include "core/scene/animation.h"
#include "core/scene/import.h"
#include "support/binary_fbx.h"
#include "support/files.h"

#include <algorithm>

#include <catch2/catch.hpp>

using namespace noctis;
using test::BinaryFbx;
using test::Folder;

namespace {

/// A board of 2 x 1 m written in centimetres, that rises by 2 m within a second, and a camera 9 m before
/// it which is turned from the format's +X towards -Z.
const char* kFbx = R"(; FBX 7.4.0 project file
FBXHeaderExtension:  {
	FBXHeaderVersion: 1003
	FBXVersion: 7400
}
GlobalSettings:  {
	Version: 1000
	Properties70:  {
		P: "UpAxis", "int", "Integer", "",1
		P: "UpAxisSign", "int", "Integer", "",1
		P: "FrontAxis", "int", "Integer", "",2
		P: "FrontAxisSign", "int", "Integer", "",1
		P: "CoordAxis", "int", "Integer", "",0
		P: "CoordAxisSign", "int", "Integer", "",1
		P: "UnitScaleFactor", "double", "Number", "",1
	}
}
Objects:  {
	Geometry: 1000, "Geometry::board", "Mesh" {
		Vertices: *12 {
			a: 0,0,0,200,0,0,200,100,0,0,100,0
		}
		PolygonVertexIndex: *4 {
			a: 0,1,2,-4
		}
		GeometryVersion: 124
	}
	Model: 2000, "Model::board", "Mesh" {
		Version: 232
		Properties70:  {
			P: "Lcl Translation", "Lcl Translation", "", "A",100,0,0
		}
	}
	NodeAttribute: 1001, "NodeAttribute::eye", "Camera" {
		Properties70:  {
			P: "FieldOfView", "FieldOfView", "", "A",40
		}
		TypeFlags: "Camera"
		GeometryVersion: 124
	}
	Model: 2001, "Model::eye", "Camera" {
		Version: 232
		Properties70:  {
			P: "Lcl Translation", "Lcl Translation", "", "A",0,100,900
			P: "Lcl Rotation", "Lcl Rotation", "", "A",0,90,0
		}
	}
	AnimationStack: 3000, "AnimStack::rise", "" {
		Properties70:  {
			P: "LocalStop", "KTime", "Time", "",46186158000
			P: "ReferenceStop", "KTime", "Time", "",46186158000
		}
	}
	AnimationLayer: 3001, "AnimLayer::base", "" {
	}
	AnimationCurveNode: 3002, "AnimCurveNode::T", "" {
		Properties70:  {
			P: "d|X", "Number", "", "A",100
			P: "d|Y", "Number", "", "A",0
			P: "d|Z", "Number", "", "A",0
		}
	}
	AnimationCurve: 3003, "AnimCurve::", "" {
		Default: 0
		KeyVer: 4008
		KeyTime: *2 {
			a: 0,46186158000
		}
		KeyValueFloat: *2 {
			a: 0,200
		}
	}
}
Connections:  {
	C: "OO",2000,0
	C: "OO",1000,2000
	C: "OO",2001,0
	C: "OO",1001,2001
	C: "OO",3001,3000
	C: "OO",3002,3001
	C: "OP",3002,2000, "Lcl Translation"
	C: "OP",3003,3002, "d|Y"
}
)";

}  // namespace

TEST_CASE("an FBX in centimetres is read in metres, with its camera", "[scene][fbx]") {
    const Folder folder;
    const bool binary = GENERATE(false, true);
    const Scene scene =
        importScene(folder.write("board.fbx", binary ? BinaryFbx::of(kFbx) : std::string(kFbx)));
    CHECK(scene.objects == std::vector<std::string>{"board"});
    CHECK(boundsOf(scene).min.equalWithAbsError(V3f(1, 0, 0), 1e-4F));
    CHECK(boundsOf(scene).max.equalWithAbsError(V3f(3, 1, 0), 1e-4F));
    REQUIRE(scene.views.size() == 1);
    CHECK(scene.views[0].name == "eye");
    CHECK(scene.views[0].camera.position().equalWithAbsError(V3f(0, 1, 9), 1e-4F));
    const V3f ahead = cameraRay(scene.views[0].camera, 50, 50, 100, 100).direction;
    CHECK(ahead.equalWithAbsError(V3f(0, 0, -1), 1e-4F));
    CHECK(std::any_of(scene.notes.begin(), scene.notes.end(),
                      [](const std::string& n) { return n.find("1 cm") != std::string::npos; }));
}

TEST_CASE("an FBX's motion is read in metres and seconds", "[scene][fbx][animation]") {
    const Folder folder;
    const bool binary = GENERATE(false, true);
    Scene scene =
        importScene(folder.write("board.fbx", binary ? BinaryFbx::of(kFbx) : std::string(kFbx)));
    REQUIRE(scene.animation);
    CHECK(scene.animation->seconds == Approx(1.0));
    const auto placeAt = [&](double seconds) {
        poseAt(scene, seconds);
        return V3f(scene.instances[0].toWorld.translation());
    };
    CHECK(placeAt(0.0).equalWithAbsError(V3f(1, 0, 0), 1e-4F));
    CHECK(placeAt(0.5).equalWithAbsError(V3f(1, 1, 0), 1e-3F));
    CHECK(placeAt(1.0).equalWithAbsError(V3f(1, 2, 0), 1e-4F));
}
