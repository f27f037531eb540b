// SPDX-License-Identifier: GPL-3.0-or-later
#include "links/links.h"

#include <fmt/core.h>
#include <glib.h>

#include <algorithm>
#include <cctype>
#include <memory>

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

// What browsers take and RFC 3986 does not is let pass, and nothing is decoded.
constexpr auto readAsBrowsersDo =
    static_cast<GUriFlags>(G_URI_FLAGS_PARSE_RELAXED | G_URI_FLAGS_ENCODED);

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
    // What has no scheme reads as one with a host's name ("example.org:80/"): that is no scheme.
    const std::size_t colon = address.find(':');
    const std::string scheme = address.substr(0, std::min(colon, address.find_first_of("/?#.")));
    const bool port =
        colon + 1 < address.size() && std::isdigit(static_cast<unsigned char>(address[colon + 1]));
    if (colon == std::string::npos || scheme.size() != colon || scheme.empty() || port)
        return refused(address, "has no scheme.");
    if (g_ascii_strcasecmp(scheme.c_str(), "http") != 0 &&
        g_ascii_strcasecmp(scheme.c_str(), "https") != 0)
        return refused(address,
                       "does not begin with http or https; nothing else is opened from a picture.");
    if (address.compare(colon, 3, "://") != 0)
        return refused(address, "has no // behind its scheme.");
    // Browsers and GLib take an empty port; it is a slip of the hand.
    const std::size_t authority = colon + 3, end = address.find_first_of("/?#", authority);
    if (address.substr(authority, end - authority).ends_with(':'))
        return refused(address, "has no right port.");
    GError* error = nullptr;
    const std::unique_ptr<GUri, decltype(&g_uri_unref)> parts(
        g_uri_parse(address.c_str(), readAsBrowsersDo, &error), &g_uri_unref);
    if (!parts) {
        const bool badPort = error->code == G_URI_ERROR_BAD_PORT;
        g_error_free(error);
        return refused(address, badPort ? "has no right port." : "names no host.");
    }
    if (g_uri_get_userinfo(parts.get())) return refused(address, "has a user's name in it.");
    const std::string rest = g_uri_get_host(parts.get()) ? g_uri_get_host(parts.get()) : "";
    if (!isHost(rest)) return refused(address, "names no host.");
    return {};
}

std::string escaped(std::string_view text) {
    // GLib writes a quotation mark as &quot; and an apostrophe as &apos;, so that the text may
    // stand in an attribute, too.
    const std::unique_ptr<char, decltype(&g_free)> out(
        g_markup_escape_text(text.data(), static_cast<gssize>(text.size())), &g_free);
    return out.get();
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
