#include "app/session/latest.h"

#include "support/windows.h"

#include <semaphore>
#include <vector>

#include <catch2/catch.hpp>

using namespace noctis;
using test::waitFor;

namespace {

/// Work that waits to be let through, and whose results are noted in order.
class Works {
public:
    Latest latest{&m_owner};
    std::vector<int> results;

    void ask(int number) {
        latest.ask([this, number]() -> Latest::Result {
            m_started.release();
            m_gate.acquire();
            return [this, number] { results.push_back(number); };
        });
    }
    void waitForStart() { m_started.acquire(); }
    void letThrough() { m_gate.release(); }
    bool ends() {
        return waitFor([this] { return !latest.running(); });
    }

private:
    QObject m_owner;
    std::counting_semaphore<8> m_started{0};
    std::counting_semaphore<8> m_gate{0};
};

}  // namespace

TEST_CASE("of what is asked for while work runs, only the latest is done after it",
          "[app][session]") {
    Works works;
    works.ask(1);
    works.waitForStart();
    works.ask(2);
    works.ask(3);
    CHECK(works.latest.waits());
    works.letThrough();
    works.letThrough();
    CHECK(waitFor([&] { return works.results.size() == 2; }));
    CHECK(works.ends());
    CHECK(works.results == std::vector{1, 3});
}

TEST_CASE("work that is dropped has no result, and what is asked for after it has",
          "[app][session]") {
    Works works;
    works.ask(1);
    works.waitForStart();
    works.ask(2);
    works.latest.drop();
    CHECK_FALSE(works.latest.waits());
    works.ask(3);
    works.letThrough();
    works.letThrough();
    CHECK(waitFor([&] { return works.results.size() == 1; }));
    CHECK(works.ends());
    CHECK(works.results == std::vector{3});
}
