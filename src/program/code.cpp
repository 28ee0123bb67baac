#include "program/code.h"

namespace ferro::program {

std::string codeOf(std::string_view line) {
    std::string code;
    bool remark = false;
    for (const char c : line) {
        if (c == ';' && !remark) break;
        if (c == '(') remark = true;
        if (!remark) code += c;
        if (c == ')') remark = false;
    }
    const auto begin = code.find_first_not_of(" \t\r");
    return begin == std::string::npos ? std::string() : code.substr(begin, code.find_last_not_of(" \t\r") + 1 - begin);
}

} // namespace ferro::program
