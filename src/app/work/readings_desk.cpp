// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/readings_desk.h"

#include <chrono>

#include "base/parallel.h"
#include "picture/shrink.h"

namespace zl::app {
namespace {

constexpr int cardWidth = 152, cardHeight = 86;

// A picture no larger than `room` (device px): checks behind what is see-through.
QImage imageWithin(const Straight8& frame, PixelSize room, double most) {
    const double scale = std::min({static_cast<double>(room.width) / frame.width(),
                                   static_cast<double>(room.height) / frame.height(), most});
    QImage image(std::max(1, static_cast<int>(frame.width() * scale)),
                 std::max(1, static_cast<int>(frame.height() * scale)), QImage::Format_RGB32);
    Backdrop checks;
    checks.checks = true;
    showOnScreen(frame, {scale, 0, 0}, checks, checks.one, {0, 0, image.width(), image.height()},
                 reinterpret_cast<std::uint32_t*>(image.bits()),
                 static_cast<int>(image.bytesPerLine() / 4), coreCount());
    return image;
}

// How long a hand has to be still to count as resting: some frames of a drag, of a slow one more.
std::chrono::milliseconds restAfter(qint64 sinceTheLastEdit) {
    constexpr qint64 least = 30, most = 60;
    return std::chrono::milliseconds(
        sinceTheLastEdit < most ? std::clamp(sinceTheLastEdit * 3 / 2, least, most) : least);
}

// Waits until the hand has rested; false when something newer came. While a layer is dragged the
// processors are the screen's: a measurement would only be thrown away.
bool handRests(std::chrono::milliseconds rest, const std::stop_token& stop) {
    std::mutex mutex;
    std::condition_variable_any never;
    std::unique_lock lock(mutex);
    never.wait_for(lock, stop, rest, [] { return false; });
    return !stop.stop_requested();
}

PieceState stateFrom(const Piece& piece, std::optional<double> moment, Result<PieceReadings> read,
                     Weighing weighing) {
    PieceState state;
    state.measured = piece;
    state.moment = moment;
    if (!read) {
        state.refusal = QString::fromStdString(read.error().sentence());
        state.exact = weighing == Weighing::exact;
        return state;
    }
    state.verdict = worstOf(read->readings);
    state.exact = weighing == Weighing::exact;
    for (const Reading& reading : read->readings)
        if (reading.id == reading_id::weight)
            if (const auto* bytes = std::get_if<double>(&reading.value))
                state.bytes = static_cast<long long>(*bytes);
    state.readings = std::move(read->readings);
    state.notes = std::move(read->notes);
    state.marks = std::move(read->marks);
    state.outcome = read->outcome;
    state.frame = read->frame;
    state.opaque = isOpaque(*read->frame);
    state.card = imageWithin(*read->frame, {2 * cardWidth, 2 * cardHeight}, 2);
    return state;
}

}  // namespace

ReadingsDesk::ReadingsDesk(Session& session, QObject* parent) : QObject(parent), session_(session) {
    lastEdit_.start();
    connect(&session_, &Session::kitChanged, this, [this] { measureChosen(); });
    connect(&session_, &Session::chosen, this, [this] { measureChosen(); });
    connect(&session_, &Session::opened, this, [this] { states_.clear(); });
    connect(&session_.clock(), &PieceClock::settled, this, [this] { measureChosen(); });
}

const PieceState* ReadingsDesk::state(const std::string& pieceId) const {
    const auto found = states_.find(pieceId);
    return found == states_.end() ? nullptr : &found->second;
}

bool ReadingsDesk::isCurrent(const std::string& pieceId) const {
    const PieceState* known = state(pieceId);
    const Piece* piece = session_.kit().piece(pieceId);
    if (!known || !piece || !known->exact || known->measured != *piece) return false;
    // The chosen piece is read at the moment that is looked at.
    const bool chosen = session_.piece() && session_.piece()->id == pieceId;
    return !chosen || !known->moment || session_.clock().playing() ||
           known->moment == session_.clock().moment();
}

void ReadingsDesk::measureAgain() {
    for (auto& [id, state] : states_) state.exact = false;
    measureChosen();
}

void ReadingsDesk::deliver(PieceState state) {
    const std::string id = state.measured.id;
    if (!session_.kit().piece(id)) return;
    states_[id] = std::move(state);
    Q_EMIT changed(QString::fromStdString(id));
}

void ReadingsDesk::measureChosen() {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!piece || !brief) {
        chosen_.cancel();
        return measureOthers();
    }
    if (isCurrent(piece->id)) return measureOthers();
    others_.cancel();
    const auto rest = restAfter(lastEdit_.restart());
    chosen_.post([this, rest, kit = session_.kit(), wanted = *piece, demand = *brief,
                  moment = session_.clock().moment(), inks = session_.inks(),
                  first = !state(piece->id)](const std::stop_token& stop) {
        if (!first && !handRests(rest, stop)) return;
        for (const Weighing weighing : {Weighing::quickBound, Weighing::exact}) {
            auto read = readPiece({wanted, kit, moment}, demand, *inks, weighing, stop);
            if (stop.stop_requested()) return;
            auto state =
                std::make_shared<PieceState>(stateFrom(wanted, moment, std::move(read), weighing));
            QMetaObject::invokeMethod(
                this,
                [this, state] {
                    // A count that comes late is still shown; isCurrent() tells that a newer one is
                    // on its way.
                    const bool exact = state->exact;
                    deliver(std::move(*state));
                    if (exact) measureOthers();
                },
                Qt::QueuedConnection);
        }
    });
}

void ReadingsDesk::measureOthers() {
    std::vector<std::pair<Piece, Brief>> due;
    for (const Piece& piece : session_.kit().pieces) {
        const Brief* brief = session_.briefs().find(piece.brief);
        if (brief && (!session_.piece() || piece.id != session_.piece()->id) &&
            !isCurrent(piece.id))
            due.emplace_back(piece, *brief);
    }
    if (due.empty()) return;
    others_.post([this, due = std::move(due), kit = session_.kit(),
                  inks = session_.inks()](const std::stop_token& stop) {
        for (const auto& [piece, brief] : due) {
            auto read = readPiece({piece, kit}, brief, *inks, Weighing::exact, stop);
            if (stop.stop_requested()) return;
            auto state = std::make_shared<PieceState>(
                stateFrom(piece, {}, std::move(read), Weighing::exact));
            QMetaObject::invokeMethod(
                this, [this, state] { deliver(std::move(*state)); }, Qt::QueuedConnection);
        }
    });
}

}  // namespace zl::app
