// SPDX-License-Identifier: GPL-3.0-or-later
#include "links/links.h"

#include <fmt/core.h>

#include <algorithm>
#include <cctype>

namespace zl {
namespace {

bool isHost(std::string_view host) {
    if (host.empty() || host.size() > 253 || host.front() == '.' || host.front() == '-' ||
        host.find("..") != std::string_view::npos)
        return false;
    // Letters of any language count: browsers turn them into their ASCII form (WHATWG URL, 3.3).
    return std::all_of(host.begin(), host.end(), [](char c) {
        const auto u = static_cast<unsigned char>(c);
        return u >= 128 || std::isalnum(u) || c == '-' || c == '.' || c == '_';
    });
}

Result<void> refused(const std::string& address, const char* why) {
    return fail(Code::badUsage, fmt::format("The address \"{}\" {}", cutToFit(address, 80), why),
                "It begins as in https://example.org.");
}

}  // namespace

Result<void> checkAddress(const std::string& address) {
    if (address.empty())
        return fail(Code::badUsage, "A link region leads nowhere: it has no address.",
                    "Type where it leads.");
    if (address.size() > 2000) return refused(address, "is too long.");
    for (const char c : address) {
        const auto u = static_cast<unsigned char>(c);
        if (u <= 32 || u == 127)
            return refused(address, "has a space or a control character in it.");
        if (std::string_view("\"<>\\^`{|}").find(c) != std::string_view::npos)
            return refused(address, "has a character that no address has.");
    }
    const std::size_t colon = address.find(':');
    const std::size_t slash = address.find_first_of("/?#");
    std::string scheme =
        colon == std::string::npos || colon > slash ? "" : address.substr(0, colon);
    std::transform(scheme.begin(), scheme.end(), scheme.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    const bool isScheme = !scheme.empty() && scheme.find('.') == std::string::npos &&
                          !(colon + 1 < address.size() &&
                            std::isdigit(static_cast<unsigned char>(address[colon + 1])));
    if (!isScheme) return refused(address, "has no scheme.");
    if (scheme != "http" && scheme != "https")
        return refused(address,
                       "does not begin with http or https; nothing else is opened from a picture.");
    if (address.compare(colon, 3, "://") != 0)
        return refused(address, "has no // behind its scheme.");
    std::string rest = address.substr(colon + 3);
    rest = rest.substr(0, rest.find_first_of("/?#"));
    if (rest.find('@') != std::string::npos) return refused(address, "has a user's name in it.");
    const std::size_t port = rest.rfind(':');
    if (port != std::string::npos) {
        const std::string digits = rest.substr(port + 1);
        if (digits.empty() || digits.size() > 5 ||
            !std::all_of(digits.begin(), digits.end(),
                         [](unsigned char c) { return std::isdigit(c); }) ||
            std::stoi(digits) > 65535)
            return refused(address, "has no right port.");
        rest.resize(port);
    }
    if (!isHost(rest)) return refused(address, "names no host.");
    return {};
}

std::string escaped(std::string_view text) {
    std::string out;
    for (const char c : text) switch (c) {
            case '&':
                out += "&amp;";
                break;
            case '<':
                out += "&lt;";
                break;
            case '>':
                out += "&gt;";
                break;
            case '"':
                out += "&quot;";
                break;
            case '\'':
                out += "&#39;";
                break;
            default:
                out += c;
        }
    return out;
}

std::vector<LinkRegion> linksWithin(const std::vector<LinkRegion>& links, const PixelRect& part) {
    std::vector<LinkRegion> inside;
    for (const LinkRegion& link : links)
        if (const PixelRect both = link.place.intersected(part); !both.empty())
            inside.push_back({both.moved(-part.left, -part.top), link.address, link.says});
    return inside;
}

Result<std::string> imageMap(const std::vector<LinkRegion>& links, PixelSize size,
                             const std::string& picture, const std::string& title) {
    std::string areas;
    for (const LinkRegion& link : linksWithin(links, PixelRect::of(size))) {
        if (auto good = checkAddress(link.address); !good) return passOn(good.error());
        areas += fmt::format(
            "<area shape=\"rect\" coords=\"{},{},{},{}\" href=\"{}\" alt=\"{}\">\n",
            link.place.left, link.place.top, link.place.right, link.place.bottom,
            escaped(link.address), escaped(link.says.empty() ? link.address : link.says));
    }
    return fmt::format(
        "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta "
        "charset=\"utf-8\">\n<title>{0}</title>\n</head>\n<body>\n"
        "<img src=\"{1}\" width=\"{2}\" height=\"{3}\" alt=\"{0}\" usemap=\"#regions\">\n<map "
        "name=\"regions\">\n{4}</map>\n</body>\n</html>\n",
        escaped(title), escaped(picture), size.width, size.height, areas);
}

}  // namespace zl
