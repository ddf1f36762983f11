#include "step_cases.h"

namespace bench {

namespace {

const std::vector<StepCase> kCases{
    {"a backdrop with light wrap",
     R"({{"step":"backdrop","settings":{{"picture":"{1}/dusk_sky.png","wrap":0.5,"exposure":0.0{0:04}}}}})",
     0.5, 1},
    {"200 sparks",
     R"({{"step":"standee","settings":{{"text":"•","mode":"add","height":0.12,"distance":9,"at":[900,700],"count":200,"span":8,"strength":3.{0:04}}}}})",
     0.2, 1},
    {"motion blur of 32 px", R"({{"step":"motion_blur","settings":{{"shutter":1.0{0:04}}}}})", 1.5,
     1, 1, 32.0F},
    {"distortion", R"({{"step":"distortion","settings":{{"k1":0.1{0:04}}}}})", 1.0, 1},
    {"sharpen", R"({{"step":"sharpen","settings":{{"strength":0.5{0:04},"threshold":0}}}})", 0.5,
     1},
    {"vignette at 3840x2160",
     R"({{"step":"vignette","settings":{{"natural":true,"strength":0.5{0:04}}}}})", 4.0, 0, 2},
    {"grain at 3840x2160", R"({{"step":"grain","settings":{{"strength":0.1{0:04}}}}})", 4.0, 0, 2},
    {"fringing at 3840x2160", R"({{"step":"fringing","settings":{{"strength":3.0{0:04}}}}})", 8.0,
     0, 2}};

}  // namespace

void lens(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    stepCases(demo, kCases, wanted, rows);
}

}  // namespace bench
