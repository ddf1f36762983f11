#pragma once

#include <cstdint>
#include <cstring>
#include <regex>
#include <string>
#include <vector>

namespace noctis::test {

/// The binary form of an FBX of version 7.4 written as text: header, then nested records with the offset
/// of their end, their typed properties, and an empty record after the last of those within.
class BinaryFbx {
public:
    static std::string of(const std::string& text) { return BinaryFbx(text).m_out; }

private:
    explicit BinaryFbx(const std::string& text) {
        static const std::regex token(R"(;[^\n]*|"[^"]*"|[{}]|\*\d+|[A-Za-z_]\w*:|-?\d+\.?\d*)");
        for (std::sregex_iterator each(text.begin(), text.end(), token), end; each != end; ++each)
            if (each->str().front() != ';')
                m_tokens.push_back(each->str());
        m_out = std::string("Kaydara FBX Binary  \0\x1a\0", 23);
        put(std::uint32_t{7400});
        while (m_at < m_tokens.size())
            record();
        m_out.append(13, '\0');
    }

    template <typename T> void put(T value) {
        m_out.append(reinterpret_cast<const char*>(&value), sizeof value);
    }
    template <typename T> void putAt(std::size_t where, T value) {
        std::memcpy(m_out.data() + where, &value, sizeof value);
    }
    [[nodiscard]] bool atName() const {
        const std::string& t = m_tokens[m_at];
        return t.back() == ':' && t.front() != '"';
    }

    void record() {
        std::string name = m_tokens[m_at++];
        name.pop_back();
        const std::size_t begin = m_out.size();
        m_out.append(12, '\0');
        put(static_cast<std::uint8_t>(name.size()));
        m_out += name;
        const std::size_t properties = m_out.size();
        std::uint32_t count = 0;
        std::string use;  // of a "P" record: its second property is the type of its values
        while (m_at < m_tokens.size() && m_tokens[m_at] != "}" && m_tokens[m_at] != "{" &&
               !atName()) {
            if (m_tokens[m_at].front() == '*') {
                array(name);
                ++count;
                break;
            }
            if (count == 1)
                use = m_tokens[m_at];
            property(name, use, m_tokens[m_at++]);
            ++count;
        }
        putAt(begin + 4, count);
        putAt(begin + 8, static_cast<std::uint32_t>(m_out.size() - properties));
        if (m_at < m_tokens.size() && m_tokens[m_at] == "{") {
            ++m_at;
            while (m_tokens[m_at] != "}")
                record();
            ++m_at;
            m_out.append(13, '\0');
        }
        putAt(begin, static_cast<std::uint32_t>(m_out.size()));
    }

    void property(const std::string& record, const std::string& use, const std::string& token) {
        static const std::string ids =
            " Geometry Model NodeAttribute AnimationStack AnimationLayer AnimationCurveNode "
            "AnimationCurve C ";
        if (token.front() == '"') {
            std::string text = token.substr(1, token.size() - 2);
            if (const auto colons = text.find("::"); colons != std::string::npos)
                text = text.substr(colons + 2) + std::string("\0\1", 2) + text.substr(0, colons);
            m_out += 'S';
            put(static_cast<std::uint32_t>(text.size()));
            m_out += text;
        } else if (ids.find(' ' + record + ' ') != std::string::npos || use == "\"KTime\"") {
            m_out += 'L';
            put(static_cast<std::int64_t>(std::stoll(token)));
        } else if (record == "P" && use != "\"int\"") {
            m_out += 'D';
            put(std::stod(token));
        } else {
            m_out += 'I';
            put(static_cast<std::int32_t>(std::stol(token)));
        }
    }

    /// "*2 { a: 0,1 }", unpacked.
    void array(const std::string& record) {
        const auto length = static_cast<std::uint32_t>(std::stoul(m_tokens[m_at].substr(1)));
        m_at += 3;
        const char type = record == "PolygonVertexIndex" ? 'i'
                          : record == "KeyTime"          ? 'l'
                          : record == "KeyValueFloat"    ? 'f'
                                                         : 'd';
        m_out += type;
        put(length);
        put(std::uint32_t{0});
        put(static_cast<std::uint32_t>(length * (type == 'i' || type == 'f' ? 4U : 8U)));
        for (; m_tokens[m_at] != "}"; ++m_at)
            switch (type) {
            case 'i':
                put(static_cast<std::int32_t>(std::stol(m_tokens[m_at])));
                break;
            case 'l':
                put(static_cast<std::int64_t>(std::stoll(m_tokens[m_at])));
                break;
            case 'f':
                put(std::stof(m_tokens[m_at]));
                break;
            default:
                put(std::stod(m_tokens[m_at]));
            }
        ++m_at;
    }

    std::vector<std::string> m_tokens;
    std::size_t m_at = 0;
    std::string m_out;
};

}  // namespace noctis::test
