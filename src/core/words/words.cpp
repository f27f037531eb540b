// SPDX-License-Identifier: GPL-3.0-or-later
#include "words/words.h"

#include <fmt/args.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "base/bytes.h"

namespace zl {
namespace {

constexpr auto table = std::to_array<Phrase>({
    {"verdict.pass", "pass"},
    {"verdict.watch", "watch"},
    {"verdict.fail", "fail"},
    {"verdict.n/a", "not measured"},

    {"reading.frame", "Frame"},
    {"reading.weight", "Weight"},
    {"reading.format", "Format"},
    {"reading.stretch", "Stretch"},
    {"reading.enlargement", "Enlargement"},
    {"reading.black-bars", "Black bars"},
    {"reading.naming", "Names"},

    {"frame.equal", "{0} × {1} px, as the brief asks."},
    {"frame.multiple", "{0} × {1} px, {2} times the brief's frame."},
    {"frame.enough", "{0} × {1} px, at least {2} × {3} and the right shape."},
    {"frame.free", "{0} × {1} px; this brief takes any frame."},
    {"frame.larger", "{0} × {1} px has the shape of {2} × {3}, but not its size."},
    {"frame.nearly", "{0} × {1} px is a little less than {2} × {3}."},
    {"frame.wrong-shape", "{0} × {1} px is not the brief's shape, {2} × {3}: the destination would stretch or cut it."},
    {"frame.too-small", "{0} × {1} px is smaller than {2} × {3}: the destination would enlarge it."},

    {"frame.kept", "A crop to the brief's shape keeps this part, {0} × {1} px."},

    {"weight.under", "{0} bytes of {1} allowed."},
    {"weight.no-limit", "{0} bytes; this brief has no limit."},
    {"weight.binary-only", "{0} bytes fit only if the limit of {1} MB is meant as {2} bytes."},
    {"weight.over", "{0} bytes are {1} over the limit of {2}."},
    {"weight.cannot-fit", "It cannot be encoded under the limit: {0}"},
    {"weight.bound", "At most {0} bytes of {1} allowed; the exact count follows."},

    {"format.accepted", "{0}, {1} bit, as the brief accepts."},
    {"format.not-accepted", "It is a {0}; the brief accepts {1}."},
    {"format.no-alpha", "{0} without an alpha channel: the see-through part would turn solid."},
    {"format.no-alpha-channel", "The brief wants a see-through picture, and the file has no alpha channel."},
    {"format.wrong-ending", "The name \"{0}\" does not end as a {1} does."},
    {"format.no-ending", "The name \"{0}\" has no ending; a {1} ends in {2}."},

    {"stretch.none", "No picture is stretched."},
    {"stretch.no-pictures", "There is no picture to be stretched."},
    {"stretch.most", "\"{0}\" is stretched by {1:.1f} %."},
    {"stretch.layer", "\"{0}\" is {1:.1f} % {2} than its original's shape."},

    {"enlargement.none", "Every picture has at least the pixels it is shown with."},
    {"enlargement.no-pictures", "There is no picture to be enlarged."},
    {"enlargement.most", "\"{0}\" is shown {1:.2f} times as large as its pixels."},
    {"enlargement.layer", "\"{0}\" has {1} × {2} px for {3} × {4} px of the frame."},

    {"black-bars.none", "No black bars."},
    {"black-bars.found", "Black bars of {0} and {1} px lie at the {2}."},
    {"black-bars.bar", "A black bar, {0} px."},
    {"black-bars.see-through", "Only opaque briefs are searched for black bars."},

    {"naming.good", "{0} layers, all named."},
    {"naming.one", "1 layer, named."},
    {"naming.nothing", "The piece has no layers."},
    {"naming.count", "{0} names or layers want a look."},
    {"naming.default-name", "\"{0}\" says nothing about what it is."},
    {"naming.no-name", "A layer has no name."},
    {"naming.repeated", "\"{0}\" is the name of {1} layers."},
    {"naming.hidden", "\"{0}\" is hidden."},
    {"naming.empty", "\"{0}\" is empty: nothing of it is drawn."},
    {"naming.outside", "\"{0}\" lies wholly outside the frame."},
    {"naming.file-ending", "The file name \"{0}\" does not end as a {1} does."},
    {"naming.file-default", "The file name \"{0}\" says nothing about what it is."},

    {"mend.crop-to-frame", "Crop to {0} × {1}"},
    {"mend.unstretch", "Take the stretch out"},
    {"mend.fit-limit", "Find the best under the limit"},
    {"mend.rename", "Name by content"},

    {"word.narrower", "narrower"},
    {"word.wider", "wider"},
    {"word.top-and-bottom", "top and bottom"},
    {"word.left-and-right", "left and right"},
});

}  // namespace

std::span<const Phrase> allPhrases() {
    return table;
}

std::string english(const Message& message) {
    if (message.id.empty()) return {};
    const auto row = std::find_if(table.begin(), table.end(), [&](const Phrase& p) { return p.id == message.id; });
    if (row == table.end()) return message.id;
    fmt::dynamic_format_arg_store<fmt::format_context> numbers;
    for (const MessageValue& value : message.with)
        std::visit(
            [&](const auto& v) {
                // Counts are grouped where they are long enough to be misread: 1,118,204.
                if constexpr (std::is_same_v<std::decay_t<decltype(v)>, long long>)
                    numbers.push_back(v >= 10'000 ? grouped(v) : std::to_string(v));
                else
                    numbers.push_back(v);
            },
            value);
    try {
        return fmt::vformat(fmt::string_view(row->text.data(), row->text.size()), numbers);
    } catch (const fmt::format_error&) {
        return std::string(row->id);  // numbers that do not fit the sentence; a test walks the table
    }
}

std::string weightWords(long long bytes) {
    if (bytes >= 1'000'000) return fmt::format("{:.2f} MB", static_cast<double>(bytes) / 1e6);
    if (bytes >= 1'000) return fmt::format("{:.1f} kB", static_cast<double>(bytes) / 1e3);
    return fmt::format("{} bytes", bytes);
}

}  // namespace zl
