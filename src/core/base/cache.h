// SPDX-License-Identifier: GPL-3.0-or-later
// What was made once and may be asked for again, by a key that says all it was made of. Safe from
// any thread: what one thread is making is waited for by the others, never made twice. What was
// not asked for the longest goes first when there is no more room.
#pragma once

#include <functional>
#include <list>
#include <memory>
#include <optional>
#include <unordered_map>
#include <unordered_set>
#include <vector>

#include "base/guarded.h"
#include "base/result.h"

namespace zl {

// Two parts of a hash in one, as boost's hash_combine does it.
inline std::size_t mixed(std::size_t hash, std::size_t part) {
    return hash ^ (part + 0x9e3779b97f4a7c15ull + (hash << 6) + (hash >> 2));
}

// Room for what caches keep, in bytes. Several may share one: whichever keeps what was not asked
// for the longest gives way.
class CacheRoom {
  public:
    explicit CacheRoom(std::size_t bytes) : bytes_(bytes) {}

  private:
    template <class Key, class Value, class Hash>
    friend class Cache;
    struct Shelf {
        // When what would go first was last asked for; nothing when nothing may go.
        std::function<std::optional<std::uint64_t>()> oldest;
        std::function<void()> dropOldest;
    };
    void makeRoom() ZL_REQUIRES(mutex) {
        while (used > bytes_) {
            const Shelf* first = nullptr;
            std::uint64_t least = ~0ull;
            for (const auto& [owner, shelf] : shelves)
                if (const auto age = shelf.oldest(); age && *age < least) {
                    least = *age;
                    first = &shelf;
                }
            if (!first) return;
            first->dropOldest();
        }
    }

    Mutex mutex;  // of the room and of all caches in it
    const std::size_t bytes_;
    std::size_t used ZL_GUARDED_BY(mutex) = 0;
    std::uint64_t clock ZL_GUARDED_BY(mutex) = 0;
    std::unordered_map<const void*, Shelf> shelves ZL_GUARDED_BY(mutex);
};

// `Key` has == over all that the value depends on, and a hash, which may leave things out. `Value`
// is cheap to copy.
template <class Key, class Value, class Hash = std::hash<Key>>
class Cache {
  public:
    // What may be kept, in bytes and in number; the newest one is kept whatever it weighs.
    explicit Cache(std::shared_ptr<CacheRoom> room, std::size_t most = 10'000)
        : room_(std::move(room)), most_(most) {
        const Lock lock(room_->mutex);
        room_->shelves[this] = {[this] {
                                    room_->mutex.assertHeld();
                                    return oldest();
                                },
                                [this] {
                                    room_->mutex.assertHeld();
                                    forget(std::prev(entries_.end()));
                                }};
    }
    explicit Cache(std::size_t bytes, std::size_t most = 10'000)
        : Cache(std::make_shared<CacheRoom>(bytes), most) {}
    ~Cache() {
        clear();
        const Lock lock(room_->mutex);
        room_->shelves.erase(this);
    }
    Cache(const Cache&) = delete;
    Cache& operator=(const Cache&) = delete;

    std::optional<Value> kept(const Key& key) {
        const Lock lock(room_->mutex);
        return found(key);
    }

    // What is kept, or what `make() -> Result<Value>` gives, which then is kept; `bytesOf(value)`
    // says what it weighs. Errors are not kept. Memory that runs out is an error like another, told
    // of `what`.
    template <class Make, class BytesOf>
    Result<Value> get(const Key& key, const std::string& what, const std::stop_token& stop,
                      const Make& make, const BytesOf& bytesOf) {
        {
            const Lock lock(room_->mutex);
            while (true) {
                if (auto value = found(key)) return *value;
                if (!making_.contains(key)) break;
                const auto isMade = [&] {
                    room_->mutex.assertHeld();
                    return !making_.contains(key);
                };
                if (!made_.wait(room_->mutex, stop, isMade))
                    return fail(Code::cancelled, "Cancelled.");
            }
            making_.insert(key);
        }
        Result<Value> value = unlessTooLarge(what, make);
        const Lock lock(room_->mutex);
        making_.erase(key);
        made_.all();
        if (value) keep(key, *value, bytesOf(*value));
        return value;
    }

    void clear() {
        const Lock lock(room_->mutex);
        while (!entries_.empty()) forget(entries_.begin());
    }
    template <class Gone>
    void forgetIf(const Gone& gone) {
        const Lock lock(room_->mutex);
        for (auto at = entries_.begin(); at != entries_.end();)
            at = gone(at->key, at->value) ? forget(at) : std::next(at);
    }
    std::size_t bytes() const {
        const Lock lock(room_->mutex);
        return used_;
    }
    std::size_t count() const {
        const Lock lock(room_->mutex);
        return entries_.size();
    }

  private:
    struct Entry {
        Key key;
        Value value;
        std::size_t bytes;
        std::uint64_t asked;
    };
    using Entries = std::list<Entry>;

    std::optional<Value> found(const Key& key) ZL_REQUIRES(room_->mutex) {
        const auto at = byKey_.find(key);
        if (at == byKey_.end()) return std::nullopt;
        entries_.splice(entries_.begin(), entries_, at->second);
        at->second->asked = ++room_->clock;
        return at->second->value;
    }
    // Memory that runs out here costs the keeping, not the value.
    void keep(const Key& key, const Value& value, std::size_t bytes) ZL_REQUIRES(room_->mutex) {
        try {
            entries_.push_front({key, value, 0, ++room_->clock});
            byKey_[key] = entries_.begin();
        } catch (const std::bad_alloc&) {
            if (!entries_.empty() && entries_.front().key == key) entries_.pop_front();
            return;
        }
        entries_.front().bytes = bytes;
        used_ += bytes;
        room_->used += bytes;
        while (entries_.size() > most_) forget(std::prev(entries_.end()));
        room_->makeRoom();
    }
    std::optional<std::uint64_t> oldest() const ZL_REQUIRES(room_->mutex) {
        if (entries_.empty() || entries_.back().asked == room_->clock) return std::nullopt;
        return entries_.back().asked;
    }
    typename Entries::iterator forget(typename Entries::iterator at) ZL_REQUIRES(room_->mutex) {
        used_ -= at->bytes;
        room_->used -= at->bytes;
        byKey_.erase(at->key);
        return entries_.erase(at);
    }

    const std::shared_ptr<CacheRoom> room_;
    const std::size_t most_;
    Signal made_;
    Entries entries_ ZL_GUARDED_BY(room_->mutex);  // last asked for first
    std::unordered_map<Key, typename Entries::iterator, Hash> byKey_ ZL_GUARDED_BY(room_->mutex);
    std::unordered_set<Key, Hash> making_ ZL_GUARDED_BY(room_->mutex);
    std::size_t used_ ZL_GUARDED_BY(room_->mutex) = 0;
};

}  // namespace zl
