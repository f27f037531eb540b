// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/json.h"

#include <fmt/core.h>

#include <map>
#include <regex>
#include <set>

namespace zl {
namespace {

constexpr std::size_t largestJson = 16'000'000;  // bytes
constexpr int deepest = 64;

struct Misfit {
    std::string field, reason;
};
using Check = tl::expected<void, Misfit>;

bool isOfType(const Json& value, const std::string& type) {
    if (type == "object") return value.is_object();
    if (type == "array") return value.is_array();
    if (type == "string") return value.is_string();
    if (type == "integer") return value.is_number_integer();
    if (type == "number") return value.is_number();
    if (type == "boolean") return value.is_boolean();
    return type == "null" && value.is_null();
}

std::string shown(const Json& value) {
    std::string text = value.dump(-1, ' ', false, Json::error_handler_t::replace);
    return text.size() > 60 ? text.substr(0, 57) + "..." : text;
}

Check misfit(const std::string& field, std::string reason) {
    return tl::unexpected<Misfit>({field.empty() ? "the whole" : field, std::move(reason)});
}

Check fits(const Json& schema, const Json& value, const std::string& field);

Check fitsType(const Json& schema, const Json& value, const std::string& field) {
    if (const auto type = schema.find("type"); type != schema.end()) {
        const Json types = type->is_array() ? *type : Json::array({*type});
        bool any = false;
        std::string names;
        for (const auto& one : types) {
            any = any || isOfType(value, one.get<std::string>());
            names += (names.empty() ? "" : " or ") + one.get<std::string>();
        }
        if (!any)
            return misfit(field,
                          fmt::format("{} is asked for, {} stands there", names, shown(value)));
    }
    if (const auto choices = schema.find("enum"); choices != schema.end()) {
        for (const auto& choice : *choices)
            if (choice == value) return {};
        return misfit(field, fmt::format("{} is not one of {}", shown(value), choices->dump()));
    }
    return {};
}

Check fitsObject(const Json& schema, const Json& value, const std::string& field) {
    for (const auto& name : schema.value("required", Json::array()))
        if (!value.contains(name.get<std::string>()))
            return misfit(field, fmt::format("\"{}\" is missing", name.get<std::string>()));
    const Json properties = schema.value("properties", Json::object());
    for (const auto& [name, member] : value.items()) {
        const auto known = properties.find(name);
        if (known != properties.end()) {
            if (auto good = fits(*known, member, field.empty() ? name : field + "." + name); !good)
                return good;
        } else if (const auto others = schema.find("additionalProperties");
                   others != schema.end()) {
            if (*others == false)
                return misfit(field, fmt::format("\"{}\" is not known here", name.substr(0, 60)));
            if (others->is_object())
                if (auto good = fits(*others, member, field.empty() ? name : field + "." + name);
                    !good)
                    return good;
        }
    }
    return {};
}

Check fitsArray(const Json& schema, const Json& value, const std::string& field) {
    if (value.size() < schema.value("minItems", std::size_t{0}))
        return misfit(field, "too few entries");
    if (value.size() > schema.value("maxItems", std::size_t{1'000'000}))
        return misfit(field, "too many entries");
    if (const auto items = schema.find("items"); items != schema.end())
        for (std::size_t i = 0; i < value.size(); ++i)
            if (auto good = fits(*items, value[i], fmt::format("{}[{}]", field, i)); !good)
                return good;
    return {};
}

// A schema's patterns are compiled once: a brief alone asks for the same few dozens of times.
const std::regex& compiled(const std::string& pattern) {
    thread_local std::map<std::string, std::regex> kept;
    const auto known = kept.find(pattern);
    return known != kept.end()
               ? known->second
               : kept.emplace(pattern, std::regex(pattern, std::regex::optimize)).first->second;
}

Check fitsValue(const Json& schema, const Json& value, const std::string& field) {
    if (value.is_string()) {
        const auto& text = value.get_ref<const std::string&>();
        if (text.size() < schema.value("minLength", std::size_t{0}))
            return misfit(field, "the text is empty or too short");
        if (text.size() > schema.value("maxLength", std::size_t{1'000'000}))
            return misfit(field, "the text is too long");
        if (const auto pattern = schema.find("pattern"); pattern != schema.end())
            if (text.size() > 1000 ||
                !std::regex_search(text, compiled(pattern->get<std::string>())))
                return misfit(field, fmt::format("{} does not fit {}", shown(value),
                                                 pattern->get<std::string>()));
    }
    if (value.is_number()) {
        const double number = value.get<double>();
        if (const auto low = schema.find("minimum");
            low != schema.end() && !(number >= low->get<double>()))
            return misfit(field, fmt::format("{} is below {}", shown(value), low->dump()));
        if (const auto high = schema.find("maximum");
            high != schema.end() && !(number <= high->get<double>()))
            return misfit(field, fmt::format("{} is above {}", shown(value), high->dump()));
    }
    return {};
}

Check fits(const Json& schema, const Json& value, const std::string& field) {
    static const std::set<std::string> known{
        "$schema",   "title",    "description", "type",
        "enum",      "required", "properties",  "additionalProperties",
        "items",     "minItems", "maxItems",    "minLength",
        "maxLength", "minimum",  "maximum",     "pattern"};
    for (const auto& [keyword, ignored] : schema.items())
        if (!known.contains(keyword))
            return misfit(
                field, fmt::format("the schema asks for \"{}\", which is not understood", keyword));
    if (auto good = fitsType(schema, value, field); !good) return good;
    if (value.is_object()) return fitsObject(schema, value, field);
    if (value.is_array()) return fitsArray(schema, value, field);
    return fitsValue(schema, value, field);
}

}  // namespace

Result<Json> parseJson(ByteView bytes, const std::string& name) {
    if (bytes.size() > largestJson)
        return fail(Code::unreadable,
                    fmt::format("{} is too large: 16 MB of JSON are allowed.", name));
    bool tooDeep = false;
    const auto watch = [&](int depth, Json::parse_event_t, Json&) {
        tooDeep = tooDeep || depth > deepest;
        return !tooDeep;
    };
    Json value;
    std::string reason;
    try {
        value = Json::parse(bytes.begin(), bytes.end(), watch);
    } catch (const Json::exception& error) {
        reason = error.what();
        // "[json.exception.parse_error.101] parse error at line 3, column 7: ..." -> "line 3,
        // column 7"
        std::smatch where;
        if (std::regex_search(reason, where, std::regex("line ([0-9]+), column ([0-9]+)")))
            reason = where.str(0);
        else
            reason = "its text";
    }
    if (tooDeep) return fail(Code::unreadable, fmt::format("{} is nested too deeply.", name));
    if (!reason.empty())
        return fail(
            Code::unreadable,
            fmt::format("{} is not good JSON: it cannot be understood at {}.", name, reason),
            "Mend that place or bring another copy.");
    return value;
}

Result<void> checkAgainst(const Json& schema, const Json& value, const std::string& name) {
    if (const auto good = fits(schema, value, ""); !good)
        return fail(Code::unreadable, fmt::format("{} is refused: {}: {}.", name,
                                                  good.error().field, good.error().reason));
    return {};
}

std::string written(const OrderedJson& value) {
    return value.dump(2, ' ', false, OrderedJson::error_handler_t::replace) + "\n";
}

}  // namespace zl
