// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/stamp_desk.h"

#include <QElapsedTimer>
#include <QPointer>
#include <algorithm>
#include <set>

#include "store/stamp_json.h"

namespace zl::app {
namespace {

QString filesWords(std::size_t count) {
    return count == 1 ? StampDesk::tr("1 file") : StampDesk::tr("%1 files").arg(count);
}

}  // namespace

// The run hears from its jobs, and its jobs hear whether to wait.
class StampDesk::Hand : public RunHand {
  public:
    explicit Hand(StampDesk* desk) : desk_(desk) { clock_.start(); }
    void done(const RunEntry&, std::size_t, std::size_t of) override {
        int count = 0;
        {
            const std::lock_guard lock(mutex_);
            count = ++count_;
        }
        const double left = static_cast<double>(clock_.elapsed()) / 1000 / count *
                            (static_cast<double>(of) - count);
        QMetaObject::invokeMethod(
            desk_,
            [desk = desk_, count, of, left] {
                if (desk) Q_EMIT desk->progressed(count, static_cast<int>(of), left);
            },
            Qt::QueuedConnection);
    }
    void waitWhilePaused() override {
        std::unique_lock lock(mutex_);
        go_.wait(lock, [&] { return !paused_; });
    }
    void pause(bool on) {
        {
            const std::lock_guard lock(mutex_);
            paused_ = on;
        }
        go_.notify_all();
    }
    bool paused() const {
        const std::lock_guard lock(mutex_);
        return paused_;
    }

  private:
    QPointer<StampDesk> desk_;
    QElapsedTimer clock_;
    mutable std::mutex mutex_;
    std::condition_variable go_;
    int count_ = 0;
    bool paused_ = false;
};

StampDesk::StampDesk(Session& session, QObject* parent)
    : QObject(parent), session_(session), stamp_(exampleStamp()) {
    stamp_.author.clear();
    stamp_.rights.clear();
    stamp_.address.clear();
    wanting_.setSingleShot(true);
    wanting_.setInterval(60);
    connect(&wanting_, &QTimer::timeout, this, &StampDesk::makeSmall);
    const auto first = [this] {
        if (!session_.kit().stamps.empty()) setStamp(session_.kit().stamps.front());
    };
    first();
    connect(&session_, &Session::opened, this, first);
    // A stamp that shows a piece follows the piece.
    connect(&session_, &Session::kitChanged, this, [this] {
        if (std::holds_alternative<StampPiece>(stamp_.what) ||
            (stamp_.twin && std::holds_alternative<StampPiece>(*stamp_.twin)))
            measureAgain();
    });
}

StampDesk::~StampDesk() {
    runStop_.request_stop();
    if (hand_) hand_->pause(false);
}

StampHome StampDesk::home() const {
    const auto file = session_.files().path();
    return {file ? file->parent_path() : std::filesystem::current_path(), nullptr};
}

void StampDesk::setStamp(const Stamp& stamp) {
    if (stamp == stamp_) return;
    stamp_ = stamp;
    Q_EMIT stampChanged();
    measureAgain();
}

void StampDesk::change(const std::function<void(Stamp&)>& how) {
    Stamp stamp = stamp_;
    how(stamp);
    setStamp(stamp);
}

void StampDesk::add(const std::vector<Path>& files, bool recursive) {
    RunAsked asked;
    asked.inputs = files;
    asked.recursive = recursive;
    asked.out = "/nowhere";
    aside(
        session_.jobs(), this, [asked] { return plannedRun(asked); },
        [this](Result<std::vector<RunJob>> jobs) {
            if (!jobs) return session_.tell(QString::fromStdString(jobs.error().sentence()), true);
            std::set<Path> known;
            for (const StampPhoto& photo : photos_) known.insert(photo.file);
            for (const RunJob& job : *jobs)
                if (known.insert(job.file).second)
                    photos_.push_back({job.file, static_cast<int>(photos_.size()) + 1});
            if (now_ < 0 && !photos_.empty()) now_ = 0;
            Q_EMIT photosChanged();
            Q_EMIT chosen(now_);
            measureRest();
        });
}

void StampDesk::removeAll() {
    ++serial_;
    measuringJob_.cancel();
    photos_.clear();
    small_.clear();
    sizes_.clear();
    now_ = -1;
    measuring_ = false;
    Q_EMIT photosChanged();
    Q_EMIT chosen(now_);
    Q_EMIT sizesChanged();
}

void StampDesk::choose(int photo) {
    if (photo < 0 || photo >= static_cast<int>(photos_.size()) || photo == now_) return;
    now_ = photo;
    Q_EMIT chosen(now_);
    show();
}

void StampDesk::setChoice(int photo, const PhotoChoice& choice) {
    StampPhoto& one = photos_[static_cast<std::size_t>(photo)];
    if (one.choice == choice) return;
    one.choice = choice;
    one.measured = false;
    Q_EMIT photoChanged(photo);
    measureRest();
}

QImage StampDesk::small(int photo) {
    const StampPhoto& one = photos_[static_cast<std::size_t>(photo)];
    if (const QImage* kept = small_.object(QString::fromStdString(one.file))) return *kept;
    // Of thousands only the last ones are kept.
    if (one.measured && !one.bad && wanted_.insert(photo).second) wanting_.start();
    return {};
}

void StampDesk::makeSmall() {
    std::vector<std::pair<int, StampPhoto>> todo;
    for (const int photo : std::exchange(wanted_, {}))
        if (photo < static_cast<int>(photos_.size()))
            todo.emplace_back(photo, photos_[static_cast<std::size_t>(photo)]);
    smallJob_.post([this, todo = std::move(todo), stamp = stamp_, at = home(), kit = session_.kit(),
                    store = store_, serial = serial_](const std::stop_token& stop) mutable {
        at.kit = &kit;
        std::optional<Marks> marks;
        for (const auto& [photo, given] : todo) {
            if (stop.stop_requested()) return;
            const StampMeasured out = measuredWith(given, stamp, at, marks, *store);
            QMetaObject::invokeMethod(
                this, [this, i = photo, out, serial] { arrived(i, out, serial); },
                Qt::QueuedConnection);
        }
    });
}

int StampDesk::measuredCount() const {
    return static_cast<int>(std::count_if(photos_.begin(), photos_.end(),
                                          [](const StampPhoto& p) { return p.measured; }));
}

void StampDesk::showWithin(QSize room, bool truePixels) {
    if (room == room_ && truePixels == truePixels_) return;
    room_ = room;
    truePixels_ = truePixels;
    show();
}

void StampDesk::measureAgain() {
    for (StampPhoto& photo : photos_) photo.measured = false;
    measureRest();
}

// Those that are not measured yet.
void StampDesk::measureRest() {
    show();
    const int serial = ++serial_;
    std::vector<std::pair<int, StampPhoto>> todo;
    for (std::size_t i = 0; i < photos_.size(); ++i)
        if (!photos_[i].measured) todo.emplace_back(static_cast<int>(i), photos_[i]);
    measuring_ = !todo.empty();
    // What is looked at comes first.
    std::stable_partition(todo.begin(), todo.end(),
                          [this](const auto& one) { return one.first >= now_; });
    measuringJob_.post([this, stamp = stamp_, at = home(), kit = session_.kit(),
                        todo = std::move(todo), serial](const std::stop_token& stop) mutable {
        at.kit = &kit;
        measure(stop, stamp, at, todo, serial);
    });
}

void StampDesk::measure(const std::stop_token& stop, const Stamp& stamp, const StampHome& home,
                        const std::vector<std::pair<int, StampPhoto>>& todo, int serial) {
    std::optional<Marks> marks;
    std::size_t count = 0;
    for (const auto& [index, given] : todo) {
        if (stop.stop_requested()) return;
        const StampMeasured out = measuredWith(given, stamp, home, marks, *store_);
        const bool last = ++count == todo.size();
        QMetaObject::invokeMethod(
            this,
            [this, i = index, out, serial, last] {
                arrived(i, out, serial);
                if (!last || serial != serial_) return;
                measuring_ = false;
                sortWorstFirst();
                showSizes();
            },
            Qt::QueuedConnection);
    }
}

void StampDesk::arrived(int photo, const StampMeasured& measured, int serial) {
    if (serial != serial_) return;
    photos_[static_cast<std::size_t>(photo)] = measured.photo;
    small_.insert(QString::fromStdString(measured.photo.file), new QImage(measured.small));
    Q_EMIT photoChanged(photo);
}

// The chosen one stays chosen. Among equals the order stays.
void StampDesk::sortWorstFirst() {
    ++serial_;  // what is on its way was asked of places that are others' now
    const Path looked = now_ >= 0 ? photos_[static_cast<std::size_t>(now_)].file : Path();
    const auto rank = [](const StampPhoto& p) {
        return p.choice.leftOut ? -1 : static_cast<int>(p.verdict) + (p.bad ? 1 : 0);
    };
    std::stable_sort(photos_.begin(), photos_.end(),
                     [&](const StampPhoto& a, const StampPhoto& b) { return rank(a) > rank(b); });
    for (std::size_t i = 0; i < photos_.size(); ++i)
        if (photos_[i].file == looked) now_ = static_cast<int>(i);
    Q_EMIT photosChanged();
    Q_EMIT chosen(now_);
}

void StampDesk::show() {
    if (now_ < 0 || room_.isEmpty()) return;
    StampAsked asked{
        photos_[static_cast<std::size_t>(now_)], now_, stamp_, home(), room_, truePixels_};
    showing_.post([this, asked = std::move(asked), kit = session_.kit(), opened = opened_,
                   store = store_, serial = ++askedShows_](const std::stop_token& stop) mutable {
        asked.home.kit = &kit;
        const StampShown seen = shownWith(*opened, asked, *store);
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(
            this,
            [this, seen, serial] {
                shownShows_ = serial;
                if (now_ >= 0) Q_EMIT shown(seen);  // else they were all taken away meanwhile
            },
            Qt::QueuedConnection);
    });
}

// The most upright, the widest, the smallest and the largest one, each once.
void StampDesk::showSizes() {
    std::vector<std::size_t> picks;
    const auto pick = [&](const std::function<double(const StampPhoto&)>& much) {
        std::optional<std::size_t> best;
        for (std::size_t i = 0; i < photos_.size(); ++i) {
            const StampPhoto& photo = photos_[i];
            if (photo.bad || photo.choice.leftOut || photo.size.empty()) continue;
            if (!best || much(photo) > much(photos_[*best])) best = i;
        }
        if (best && std::find(picks.begin(), picks.end(), *best) == picks.end())
            picks.push_back(*best);
    };
    const auto shape = [](const StampPhoto& p) {
        return static_cast<double>(p.size.width) / p.size.height;
    };
    pick([&](const StampPhoto& p) { return -shape(p); });
    pick(shape);
    pick([](const StampPhoto& p) { return -static_cast<double>(p.size.count()); });
    pick([](const StampPhoto& p) { return static_cast<double>(p.size.count()); });
    sizes_.clear();
    for (const std::size_t i : picks)
        if (const QImage image = small(static_cast<int>(i)); !image.isNull())
            sizes_.push_back(image);
    Q_EMIT sizesChanged();
}

void StampDesk::run(RunAsked asked) {
    if (running_) return;
    std::vector<StampPhoto> inOrder = photos_;
    std::sort(inOrder.begin(), inOrder.end(),
              [](const StampPhoto& a, const StampPhoto& b) { return a.number < b.number; });
    for (const StampPhoto& photo : inOrder) {
        asked.inputs.push_back(photo.file);
        if (!(photo.choice == PhotoChoice{})) asked.choices[photo.file] = photo.choice;
    }
    running_ = true;
    outcome_.reset();
    runStop_ = {};
    hand_ = std::make_shared<Hand>(this);
    Q_EMIT runChanged();
    aside(
        session_.jobs(), this,
        [asked, stamp = stamp_, kit = session_.kit(), at = home(), hand = hand_,
         stop = runStop_](const std::stop_token& closing) mutable -> Result<RunOutcome> {
            const std::stop_callback both(closing, [&] {
                stop.request_stop();
                hand->pause(false);
            });
            const auto jobs = plannedRun(asked);
            if (!jobs) return tl::unexpected(jobs.error());
            at.kit = &kit;
            return zl::run(stamp, at, asked, *jobs, *hand, stop.get_token());
        },
        [this](Result<RunOutcome> outcome) { ended(std::move(outcome)); });
}

void StampDesk::ended(Result<RunOutcome> outcome) {
    running_ = false;
    folderAsked_.reset();
    if (outcome) {
        outcome_ = std::move(*outcome);
        for (const RunEntry& entry : outcome_->entries)
            if (entry.state == JobState::failed) {
                session_.tell(QString::fromStdString(entry.error), true);
                break;
            }
    } else if (outcome.error().code == Code::cancelled)
        session_.tell(tr("The run was stopped. What is done stands, and it can go on."), false);
    else
        session_.tell(QString::fromStdString(outcome.error().sentence()), true);
    Q_EMIT runChanged();
}

bool StampDesk::unfinishedIn(const Path& folder) {
    if (folderAsked_ == folder) return unfinished_;
    folderAsked_ = folder;
    unfinished_ = false;
    aside(
        session_.jobs(), this, [folder] { return isUnfinished(folder); },
        [this, folder](bool unfinished) {
            if (folderAsked_ != folder || unfinished_ == unfinished) return;
            unfinished_ = unfinished;
            Q_EMIT runChanged();
        });
    return false;
}

void StampDesk::pause(bool on) {
    if (!running_) return;
    hand_->pause(on);
    Q_EMIT runChanged();
}

bool StampDesk::paused() const {
    return running_ && hand_->paused();
}

void StampDesk::undoRun() {
    if (!outcome_ || outcome_->receipt.empty()) return;
    aside(
        session_.jobs(), this, [receipt = outcome_->receipt] { return undoneRun(receipt); },
        [this](Result<Undone> undone) {
            if (!undone)
                return session_.tell(QString::fromStdString(undone.error().sentence()), true);
            outcome_.reset();
            session_.tell(undone->changed.empty()
                              ? tr("%1 removed; the photographs are as they were.")
                                    .arg(filesWords(undone->removed.size()))
                              : tr("%1 changed since and left as they are.")
                                    .arg(filesWords(undone->changed.size())),
                          !undone->changed.empty());
            Q_EMIT runChanged();
        });
}

}  // namespace zl::app
