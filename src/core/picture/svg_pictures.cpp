// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/svg_pictures.h"

#include <glib.h>
#include <libxml/xmlreader.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <memory>
#include <numbers>
#include <string_view>
#include <vector>

namespace zl {
namespace {

// The part of a transform that changes sizes: x' = a·x + c·y, y' = b·x + d·y.
struct Linear {
    double a = 1, b = 0, c = 0, d = 1;

    Linear then(const Linear& o) const {  // o is applied first
        return {a * o.a + c * o.b, b * o.a + d * o.b, a * o.c + c * o.d, b * o.c + d * o.d};
    }
    // How much longer a line becomes at most: the larger singular value.
    double most() const {
        const double sum = a * a + b * b + c * c + d * d, area = a * d - b * c;
        return std::sqrt((sum + std::sqrt(std::max(0.0, sum * sum - 4 * area * area))) / 2);
    }
};

// The numbers of a list that blanks and commas separate, up to what is no number.
std::vector<double> numbersOf(std::string_view text) {
    std::vector<double> all;
    while (true) {
        const std::size_t from = text.find_first_not_of(" \t\r\n,+");
        if (from == std::string_view::npos) return all;
        double value = 0;
        const auto [end, error] =
            std::from_chars(text.data() + from, text.data() + text.size(), value);
        if (error != std::errc{} || !std::isfinite(value)) return all;
        all.push_back(value);
        text.remove_prefix(static_cast<std::size_t>(end - text.data()));
    }
}

Linear transformOf(std::string_view text) {
    Linear all;
    for (std::size_t open; (open = text.find('(')) != std::string_view::npos;) {
        const std::size_t close = text.find(')', open);
        if (close == std::string_view::npos) break;
        const std::string_view name = text.substr(0, open);
        const std::vector<double> n = numbersOf(text.substr(open + 1, close - open - 1));
        text.remove_prefix(close + 1);
        const auto is = [&](std::string_view what) {
            return name.find(what) != std::string_view::npos && !n.empty();
        };
        const double angle = n.empty() ? 0 : n[0] * std::numbers::pi / 180;
        if (is("matrix") && n.size() == 6)
            all = all.then({n[0], n[1], n[2], n[3]});
        else if (is("scale"))
            all = all.then({n[0], 0, 0, n.size() > 1 ? n[1] : n[0]});
        else if (is("rotate"))
            all = all.then({std::cos(angle), std::sin(angle), -std::sin(angle), std::cos(angle)});
        else if (is("skewX"))
            all = all.then({1, 0, std::tan(angle), 1});
        else if (is("skewY"))
            all = all.then({1, std::tan(angle), 0, 1});
    }
    return all;
}

// How a box of `width` × `height` comes to one of `toWidth` × `toHeight` (SVG 2, 8.6).
Linear fitted(double width, double height, double toWidth, double toHeight, std::string_view how) {
    const double x = toWidth / width, y = toHeight / height;
    if (how.find("none") != std::string_view::npos) return {x, 0, 0, y};
    const double both =
        how.find("slice") != std::string_view::npos ? std::max(x, y) : std::min(x, y);
    return {both, 0, 0, both};
}

using Reader = std::unique_ptr<xmlTextReader, void (*)(xmlTextReaderPtr)>;

std::string attribute(xmlTextReader* reader, const char* name) {
    const std::unique_ptr<xmlChar, void (*)(void*)> value(
        xmlTextReaderGetAttribute(reader, reinterpret_cast<const xmlChar*>(name)), xmlFree);
    return value ? reinterpret_cast<const char*>(value.get()) : "";
}

// A length in px, of `whole` where it is in percent; nothing where it is not said or in another
// unit.
std::optional<double> length(xmlTextReader* reader, const char* name, double whole) {
    const std::string text = attribute(reader, name);
    const std::vector<double> numbers = numbersOf(text);
    if (numbers.size() != 1) return {};
    const std::size_t unit = text.find_last_of("0123456789.") + 1;
    const std::string_view rest = std::string_view(text).substr(unit);
    if (rest == "%") return numbers[0] / 100 * whole;
    if (!rest.empty() && rest != "px") return {};
    return numbers[0];
}

// The file that a "data:" address holds (RFC 2397); empty: none.
Bytes heldFile(const std::string& href) {
    const std::size_t comma = href.find(',');
    if (comma == std::string::npos || href.find(";base64") > comma) return {};
    gsize size = 0;
    const std::unique_ptr<guchar, void (*)(void*)> data(
        g_base64_decode(href.c_str() + comma + 1, &size), g_free);
    return data ? Bytes(data.get(), data.get() + size) : Bytes{};
}

// What stands in these is drawn elsewhere, if at all.
bool isDrawnElsewhere(std::string_view element) {
    constexpr std::string_view kinds[] = {"defs",   "symbol", "pattern", "mask",
                                          "marker", "filter", "clipPath"};
    return std::find(std::begin(kinds), std::end(kinds), element) != std::end(kinds);
}

// Where the reader is: what is drawn there, and how large.
struct Place {
    Linear scale;
    double width = 0, height = 0;  // of the nearest viewport, in px of the element's own units
    bool elsewhere = false;
};

class Walk {
  public:
    Walk(xmlTextReader* reader, PixelSize own, const SizeOfHeld& sizeOfHeld)
        : reader_(reader), sizeOfHeld_(sizeOfHeld) {
        places_.push_back(
            {{}, static_cast<double>(own.width), static_cast<double>(own.height), false});
    }
    SvgPictures run() {
        while (xmlTextReaderRead(reader_) == 1)
            if (xmlTextReaderNodeType(reader_) == XML_READER_TYPE_ELEMENT) enter();
        return found_;
    }

  private:
    void enter() {
        places_.resize(
            std::min(places_.size(), static_cast<std::size_t>(xmlTextReaderDepth(reader_)) + 1));
        const auto* name = reinterpret_cast<const char*>(xmlTextReaderConstLocalName(reader_));
        const std::string_view element = name ? name : "";
        Place here = places_.back();
        here.elsewhere |= isDrawnElsewhere(element);
        here.scale = here.scale.then(transformOf(attribute(reader_, "transform")));
        if (element == "svg") enterViewport(here);
        if (element == "image") look(here);
        places_.push_back(here);
    }
    void enterViewport(Place& here) {
        const std::vector<double> box = numbersOf(attribute(reader_, "viewBox"));
        if (box.size() != 4 || box[2] <= 0 || box[3] <= 0) return;
        // The outermost one fills the SVG's own size whatever it says of itself.
        const bool outermost = places_.size() == 1;
        const double width =
            outermost ? here.width : length(reader_, "width", here.width).value_or(here.width);
        const double height =
            outermost ? here.height : length(reader_, "height", here.height).value_or(here.height);
        here.scale = here.scale.then(
            fitted(box[2], box[3], width, height, attribute(reader_, "preserveAspectRatio")));
        here.width = box[2];
        here.height = box[3];
    }
    void look(const Place& here) {
        std::string href = attribute(reader_, "href");
        if (href.empty()) href = attribute(reader_, "xlink:href");
        if (href.empty() || href.starts_with('#')) return;
        if (!href.starts_with("data:")) {
            if (found_.missing.empty()) found_.missing = href.substr(0, 120);
            return;
        }
        const std::optional<PixelSize> size = sizeOfHeld_(heldFile(href));
        if (!size || size->empty()) return;
        // A side that is not said is the picture's own, as librsvg draws it.
        const auto width = length(reader_, "width", here.width);
        const auto height = length(reader_, "height", here.height);
        const bool otherUnit = (!width && isSaid("width")) || (!height && isSaid("height"));
        if (here.elsewhere || otherUnit) {
            found_.unmeasured = true;
            return;
        }
        const double w = size->width, h = size->height;
        const double toWidth = width.value_or(w);
        const double toHeight = height.value_or(h);
        if (toWidth <= 0 || toHeight <= 0) return;
        const Linear fit =
            fitted(w, h, toWidth, toHeight, attribute(reader_, "preserveAspectRatio"));
        found_.enlarged = std::max(found_.enlarged, here.scale.then(fit).most());
    }
    bool isSaid(const char* name) const {
        const std::string text = attribute(reader_, name);
        return !text.empty() && text != "auto";
    }

    xmlTextReader* reader_;
    const SizeOfHeld& sizeOfHeld_;
    std::vector<Place> places_;  // of the elements that are open
    SvgPictures found_;
};

}  // namespace

SvgPictures picturesInSvg(ByteView bytes, PixelSize own, const SizeOfHeld& sizeOfHeld) {
    const Reader reader(
        xmlReaderForMemory(reinterpret_cast<const char*>(bytes.data()),
                           static_cast<int>(std::min<std::size_t>(bytes.size(), 1u << 30)), nullptr,
                           nullptr, XML_PARSE_NONET | XML_PARSE_NOERROR | XML_PARSE_NOWARNING),
        xmlFreeTextReader);
    if (!reader) return {};
    return Walk(reader.get(), own, sizeOfHeld).run();
}

}  // namespace zl
