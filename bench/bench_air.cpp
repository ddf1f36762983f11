#include "step_cases.h"

namespace bench {

namespace {

const std::vector<StepCase> kCases{
    {"a lamp's light in the air",
     R"({{"step":"airlight","settings":{{"kind":"point","position":[0.48,2.35,-1.15],"density":0.02{0:04}}}}})",
     6.0, 0},
    {"a sun's light in the air",
     R"({{"step":"airlight","settings":{{"kind":"sun","towards":[0.3,0.2,-0.9],"density":0.02{0:04}}}}})",
     6.0, 0},
    {"a spot's light in the air",
     R"({{"step":"airlight","settings":{{"kind":"spot","position":[0.48,2.35,-1.15],"towards":[0.2,0.9,0.1],"density":0.02{0:04}}}}})",
     16.0, 0},
    {"a lamp's light cut by things",
     R"({{"step":"airlight","settings":{{"kind":"point","position":[0.48,2.35,-1.15],"shadow":true,"softness":0,"density":0.02{0:04}}}}})",
     1.0, 2},
    {"a wide lamp's light, cut",
     R"({{"step":"airlight","settings":{{"kind":"point","position":[0.48,2.35,-1.15],"shadow":true,"density":0.02{0:04}}}}})",
     1.0, 2},
    {"a sun's light cut by things",
     R"({{"step":"airlight","settings":{{"kind":"sun","towards":[-0.55,0.22,-1],"shadow":true,"density":0.02{0:04}}}}})",
     1.0, 2},
    {"fog in banks",
     R"({{"step":"fog","settings":{{"banks":true,"bank_size":8,"density":0.02{0:04}}}}})", 1.0, 2},
    {"fog in a layer",
     R"({{"step":"fog","settings":{{"top":2,"soft_top":1,"by_height":true,"density":0.02{0:04}}}}})",
     1.0, 2},
    {"glow, 1 %", R"({{"step":"glow","settings":{{"radius":0.01,"threshold":0.1{0:04}}}}})", 0.5,
     1},
    {"glow, 10 %", R"({{"step":"glow","settings":{{"radius":0.1,"threshold":0.1{0:04}}}}})", 0.5,
     1},
    {"glow, 40 %", R"({{"step":"glow","settings":{{"radius":0.4,"threshold":0.1{0:04}}}}})", 0.5,
     1},
    {"glow of six rays",
     R"({{"step":"glow","settings":{{"radius":0.1,"streaks":6,"threshold":0.1{0:04}}}}})", 0.5, 1}};

}  // namespace

void air(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    stepCases(demo, kCases, wanted, rows);
}

}  // namespace bench
