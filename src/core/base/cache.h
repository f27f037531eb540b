// SPDX-License-Identifier: GPL-3.0-or-later
// What was made once and may be asked for again, by a key that says all it was made of. Safe from
// any thread: what one thread is making is waited for by the others, never made twice. What was
// not asked for the longest goes first when there is no more room.
#pragma once

#include <condition_variable>
#include <functional>
#include <list>
#include <mutex>
#include <optional>
#include <stop_token>
#include <unordered_map>
#include <unordered_set>

#include "base/result.h"

namespace zl {

// Two parts of a hash in one, as boost's hash_combine does it.
inline std::size_t mixed(std::size_t hash, std::size_t part) {
    return hash ^ (part + 0x9e3779b97f4a7c15ull + (hash << 6) + (hash >> 2));
}

// `Key` has == over all that the value depends on, and a hash, which may leave things out. `Value`
// is cheap to copy.
template <class Key, class Value, class Hash = std::hash<Key>>
class Cache {
  public:
    // What may be kept, in bytes and in number; the newest one is kept whatever it weighs.
    explicit Cache(std::size_t room, std::size_t most = 10'000) : room_(room), most_(most) {}

    std::optional<Value> kept(const Key& key) {
        const std::scoped_lock lock(mutex_);
        return found(key);
    }

    // What is kept, or what `make() -> Result<Value>` gives, which then is kept; `bytesOf(value)`
    // says what it weighs. Errors are not kept. Memory that runs out is an error like another, told
    // of `what`.
    template <class Make, class BytesOf>
    Result<Value> get(const Key& key, const std::string& what, const std::stop_token& stop,
                      const Make& make, const BytesOf& bytesOf) {
        {
            std::unique_lock lock(mutex_);
            while (true) {
                if (auto value = found(key)) return *value;
                if (!making_.contains(key)) break;
                if (!made_.wait(lock, stop, [&] { return !making_.contains(key); }))
                    return fail(Code::cancelled, "Cancelled.");
            }
            making_.insert(key);
        }
        Result<Value> value = unlessTooLarge(what, make);
        const std::scoped_lock lock(mutex_);
        making_.erase(key);
        if (value) keep(key, *value, bytesOf(*value));
        made_.notify_all();
        return value;
    }

    void clear() {
        const std::scoped_lock lock(mutex_);
        byKey_.clear();
        entries_.clear();
        used_ = 0;
    }
    template <class Gone>
    void forgetIf(const Gone& gone) {
        const std::scoped_lock lock(mutex_);
        for (auto at = entries_.begin(); at != entries_.end();)
            at = gone(at->key, at->value) ? forget(at) : std::next(at);
    }
    std::size_t bytes() const {
        const std::scoped_lock lock(mutex_);
        return used_;
    }
    std::size_t count() const {
        const std::scoped_lock lock(mutex_);
        return entries_.size();
    }

  private:
    struct Entry {
        Key key;
        Value value;
        std::size_t bytes;
    };
    using Entries = std::list<Entry>;

    std::optional<Value> found(const Key& key) {
        const auto at = byKey_.find(key);
        if (at == byKey_.end()) return std::nullopt;
        entries_.splice(entries_.begin(), entries_, at->second);
        return at->second->value;
    }
    void keep(const Key& key, const Value& value, std::size_t bytes) {
        entries_.push_front({key, value, bytes});
        byKey_[key] = entries_.begin();
        used_ += bytes;
        while (entries_.size() > 1 && (used_ > room_ || entries_.size() > most_))
            forget(std::prev(entries_.end()));
    }
    typename Entries::iterator forget(typename Entries::iterator at) {
        used_ -= at->bytes;
        byKey_.erase(at->key);
        return entries_.erase(at);
    }

    const std::size_t room_, most_;
    mutable std::mutex mutex_;
    std::condition_variable_any made_;
    Entries entries_;  // last asked for first
    std::unordered_map<Key, typename Entries::iterator, Hash> byKey_;
    std::unordered_set<Key, Hash> making_;
    std::size_t used_ = 0;
};

}  // namespace zl
