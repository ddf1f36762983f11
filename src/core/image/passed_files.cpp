#include "core/image/passed_files.h"

#include "core/image/error.h"

#include <array>
#include <cerrno>
#include <cstring>
#include <string>

#include <sys/socket.h>
#include <unistd.h>

namespace noctis {

namespace {

constexpr std::size_t kLongestPath = 4096;

/// A message of one name and one descriptor (man 3 cmsg).
struct Message {
    Message(char* name, std::size_t length) {
        text.iov_base = name;
        text.iov_len = length;
        header.msg_iov = &text;
        header.msg_iovlen = 1;
        header.msg_control = control.data();
        header.msg_controllen = control.size();
    }

    ::msghdr header{};
    ::iovec text{};
    alignas(::cmsghdr) std::array<char, CMSG_SPACE(sizeof(int))> control{};
};

int descriptorIn(::msghdr& header) {
    const ::cmsghdr* found = CMSG_FIRSTHDR(&header);
    int descriptor = -1;
    if (found != nullptr && found->cmsg_level == SOL_SOCKET && found->cmsg_type == SCM_RIGHTS)
        std::memcpy(&descriptor, CMSG_DATA(found), sizeof(descriptor));
    return descriptor;
}

}  // namespace

bool passFile(int socket, const InputFile& file) noexcept {
    const std::string& name = file.path().native();
    if (name.empty() || name.size() > kLongestPath)
        return false;
    Message message(const_cast<char*>(name.data()), name.size());  // which is only read
    ::cmsghdr* rights = CMSG_FIRSTHDR(&message.header);
    rights->cmsg_level = SOL_SOCKET;
    rights->cmsg_type = SCM_RIGHTS;
    rights->cmsg_len = CMSG_LEN(sizeof(int));
    const int descriptor = file.descriptor();
    std::memcpy(CMSG_DATA(rights), &descriptor, sizeof(descriptor));
    ::ssize_t sent = -1;
    do
        sent = ::sendmsg(socket, &message.header, MSG_NOSIGNAL);
    while (sent < 0 && errno == EINTR);
    return sent >= 0;
}

void takePassedFiles(int socket, OpenFiles& files) {
    std::array<char, kLongestPath> name{};
    while (true) {
        Message message(name.data(), name.size());
        const ::ssize_t length =
            ::recvmsg(socket, &message.header, MSG_DONTWAIT | MSG_CMSG_CLOEXEC);
        if (length < 0 && errno == EINTR)
            continue;
        if (length <= 0)
            return;
        const std::filesystem::path path(
            std::string(name.data(), static_cast<std::size_t>(length)));
        try {
            if (const int descriptor = descriptorIn(message.header); descriptor >= 0)
                files[path] = std::make_shared<const InputFile>(path, descriptor);
        } catch (const Error&) {
            continue;  // no regular file: reading says so where it is wanted
        }
    }
}

FilePassage::FilePassage() {
    if (::socketpair(AF_UNIX, SOCK_SEQPACKET | SOCK_CLOEXEC, 0, m_ends) != 0)
        m_ends[0] = m_ends[1] = -1;
}

FilePassage::~FilePassage() {
    for (const int end : m_ends)
        if (end >= 0)
            ::close(end);
}

}  // namespace noctis
