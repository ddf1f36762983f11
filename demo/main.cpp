// Makes the demo scene: noctis_make_demo FOLDER
#include "harbour.h"
#include "keepsakes.h"

#include <cstdio>
#include <exception>

int main(int argc, char** argv) {
    if (argc != 2) {
        std::fputs("usage: noctis_make_demo FOLDER\n", stderr);
        return 2;
    }
    try {
        using demo::V3f;
        demo::GltfWriter writer;
        const demo::Paints paints = demo::addPaints(writer);
        writer.sun("moon", V3f(0.305F, 0.215F, -1.0F), {0.40F, 0.51F, 0.72F}, 1.5F);
        demo::addBuiltThings(writer, paints);
        demo::addNature(writer, paints);
        writer.view("quay view", V3f(0.25F, 2.25F, 6.3F), V3f(1.15F, 1.62F, -6.0F), 37.0F);
        writer.view("low tide", V3f(4.9F, 0.75F, 1.6F), V3f(0.6F, 1.25F, -7.0F), 44.0F);
        // 48 frames at 24 a second: the last is at 47/24 s.
        writer.movingView("push-in", V3f(0.25F, 2.25F, 6.3F), V3f(1.15F, 1.62F, -6.0F),
                          V3f(0.42F, 2.05F, 4.1F), 47.0F / 24.0F, 37.0F);
        writer.viewFromAbove("from above", V3f(0.0F, 0.0F, -4.0F), 22.0F, 40.0F);
        writer.extras("sky", {{"zenith_r", 0.0065F},
                              {"zenith_g", 0.0125F},
                              {"zenith_b", 0.032F},
                              {"horizon_r", 0.060F},
                              {"horizon_g", 0.088F},
                              {"horizon_b", 0.135F},
                              {"ground_r", 0.004F},
                              {"ground_g", 0.006F},
                              {"ground_b", 0.008F},
                              {"light_group", "moon"}});
        writer.write(argv[1], "saltern_quay");
        demo::writeHeron(argv[1]);
        demo::writeTideStone(argv[1]);
    } catch (const std::exception& error) {
        std::fprintf(stderr, "noctis_make_demo: %s\n", error.what());
        return 4;
    }
    return 0;
}
