// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/kit.h"

#include <algorithm>

namespace zl {

const Layer* Piece::layer(int layerId) const {
    const auto found =
        std::find_if(layers.begin(), layers.end(), [&](const Layer& l) { return l.id == layerId; });
    return found == layers.end() ? nullptr : &*found;
}

const Piece* Kit::piece(std::string_view id) const {
    const auto found =
        std::find_if(pieces.begin(), pieces.end(), [&](const Piece& p) { return p.id == id; });
    return found == pieces.end() ? nullptr : &*found;
}

const Stamp* Kit::stamp(std::string_view name) const {
    for (const Stamp& one : stamps)
        if (one.name == name) return &one;
    return nullptr;
}

const Asset* Kit::asset(std::string_view hash) const {
    const auto found = assets.find(std::string(hash));
    return found == assets.end() ? nullptr : &found->second;
}

std::set<std::string> Kit::assetsInUse() const {
    std::set<std::string> used(fonts.begin(), fonts.end());
    for (const Piece& one : pieces)
        for (const Layer& layer : one.layers)
            if (const PictureLayer* picture = layer.picture()) used.insert(picture->source);
    return used;
}

std::string fileNameFromTitle(std::string_view title) {
    std::string id;
    for (const char c : title) {
        const auto u = static_cast<unsigned char>(c);
        if (std::isalnum(u) && u < 128)
            id += static_cast<char>(std::tolower(u));
        else if (!id.empty() && id.back() != '-')
            id += '-';
        if (id.size() >= 60) break;
    }
    while (!id.empty() && id.back() == '-') id.pop_back();
    return id.empty() ? "piece" : id;
}

std::string idFromTitle(std::string_view title, const Kit& taken) {
    const std::string id = fileNameFromTitle(title);
    std::string made = id;
    for (int i = 2; taken.piece(made); ++i) made = id + "-" + std::to_string(i);
    return made;
}

std::string cutToFit(std::string text, std::size_t most) {
    if (text.size() <= most) return text;
    // A byte 10xxxxxx goes on with a letter (UTF-8, RFC 3629).
    while (most > 0 && (static_cast<unsigned char>(text[most]) & 0xC0) == 0x80) --most;
    text.resize(most);
    return text;
}

std::string nameFromText(const std::string& text) {
    constexpr std::size_t most = 40;
    std::string line;
    for (const char c : text)
        if (const bool space = c == '\n' || c == '\t' || c == ' '; !space || !line.empty())
            line += space ? ' ' : c;
    if (line.size() > most) {
        const std::size_t lastWord = line.rfind(' ', most);
        line = cutToFit(line, lastWord == std::string::npos || lastWord == 0 ? most : lastWord);
    }
    while (!line.empty() && line.back() == ' ') line.pop_back();
    return line;
}

Asset makeAsset(Bytes bytes, std::string name) {
    Asset asset;
    asset.sha256 = sha256(bytes);
    asset.name = std::move(name);
    asset.bytes = std::make_shared<const Bytes>(std::move(bytes));
    return asset;
}

}  // namespace zl
