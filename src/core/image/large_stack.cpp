#include "core/image/large_stack.h"

#include <exception>
#include <system_error>

#include <pthread.h>

namespace noctis {

namespace {

struct Task {
    const std::function<void()>& work;
    std::exception_ptr thrown;
};

void* runTask(void* of) {
    auto& task = *static_cast<Task*>(of);
    try {
        task.work();
    } catch (...) {
        task.thrown = std::current_exception();
    }
    return nullptr;
}

}  // namespace

void runWithStack(std::size_t bytes, const std::function<void()>& work) {
    Task task{work, nullptr};
    pthread_attr_t attributes;
    pthread_attr_init(&attributes);
    pthread_attr_setstacksize(&attributes, bytes);
    pthread_t thread{};
    const int failed = pthread_create(&thread, &attributes, runTask, &task);
    pthread_attr_destroy(&attributes);
    if (failed != 0)
        throw std::system_error(failed, std::generic_category(), "no thread for a large stack");
    pthread_join(thread, nullptr);
    if (task.thrown)
        std::rethrow_exception(task.thrown);
}

}  // namespace noctis
