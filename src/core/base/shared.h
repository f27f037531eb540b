// SPDX-License-Identifier: GPL-3.0-or-later
// Containers whose copies share their elements until one of them is changed: a history of states
// costs what differs between them. Values like any other; one object is for one thread at a time,
// copies of it may go to others.
#pragma once

#include <algorithm>
#include <initializer_list>
#include <iterator>
#include <map>
#include <memory>
#include <utility>
#include <vector>

namespace zl {

// A list of T. What is only read stays shared; what is asked for through a list that may change is
// copied first, unless nobody else has it.
template <class T>
class SharedList {
  public:
    using value_type = T;

    template <class List, class Element>
    class Iterator {
      public:
        using iterator_category = std::random_access_iterator_tag;
        using value_type = T;
        using difference_type = std::ptrdiff_t;
        using pointer = Element*;
        using reference = Element&;

        Iterator() = default;
        Iterator(List* list, difference_type at) : list_(list), at_(at) {}
        reference operator*() const { return (*list_)[static_cast<std::size_t>(at_)]; }
        pointer operator->() const { return &**this; }
        reference operator[](difference_type by) const { return *(*this + by); }
        Iterator& operator+=(difference_type by) {
            at_ += by;
            return *this;
        }
        Iterator& operator-=(difference_type by) { return *this += -by; }
        Iterator& operator++() { return *this += 1; }
        Iterator& operator--() { return *this -= 1; }
        Iterator operator++(int) { return std::exchange(*this, *this + 1); }
        Iterator operator--(int) { return std::exchange(*this, *this - 1); }
        friend Iterator operator+(Iterator a, difference_type by) { return a += by; }
        friend Iterator operator+(difference_type by, Iterator a) { return a += by; }
        friend Iterator operator-(Iterator a, difference_type by) { return a -= by; }
        friend difference_type operator-(const Iterator& a, const Iterator& b) {
            return a.at_ - b.at_;
        }
        auto operator<=>(const Iterator& o) const { return at_ <=> o.at_; }
        bool operator==(const Iterator& o) const { return at_ == o.at_; }

      private:
        List* list_ = nullptr;
        difference_type at_ = 0;
    };
    using iterator = Iterator<SharedList, T>;
    using const_iterator = Iterator<const SharedList, const T>;

    SharedList() = default;
    SharedList(std::initializer_list<T> values) {
        for (const T& value : values) push_back(value);
    }

    std::size_t size() const { return elements_.size(); }
    bool empty() const { return elements_.empty(); }
    const T& operator[](std::size_t at) const { return *elements_[at]; }
    T& operator[](std::size_t at) {
        std::shared_ptr<T>& element = elements_[at];
        if (element.use_count() > 1) element = std::make_shared<T>(*element);
        return *element;
    }
    const T& front() const { return (*this)[0]; }
    const T& back() const { return (*this)[size() - 1]; }
    T& front() { return (*this)[0]; }
    T& back() { return (*this)[size() - 1]; }
    const_iterator begin() const { return {this, 0}; }
    const_iterator end() const { return {this, static_cast<std::ptrdiff_t>(size())}; }
    iterator begin() { return {this, 0}; }
    iterator end() { return {this, static_cast<std::ptrdiff_t>(size())}; }

    void push_back(T value) { elements_.push_back(std::make_shared<T>(std::move(value))); }
    // Before the element at that place; at the end where it is the size.
    void insertAt(std::size_t at, T value) {
        elements_.insert(elements_.begin() + static_cast<std::ptrdiff_t>(at),
                         std::make_shared<T>(std::move(value)));
    }
    template <class Gone>
    void eraseIf(const Gone& gone) {
        std::erase_if(elements_,
                      [&](const auto& element) { return gone(std::as_const(*element)); });
    }
    // Where it stands; the size when it is none of them. Nothing is copied.
    std::size_t placeOf(const T* element) const {
        const auto found = std::find_if(elements_.begin(), elements_.end(),
                                        [&](const auto& one) { return one.get() == element; });
        return static_cast<std::size_t>(found - elements_.begin());
    }
    // Whether both have the very same element there, not only an equal one.
    bool shares(const SharedList& other, std::size_t at) const {
        return elements_[at] == other.elements_[at];
    }
    bool operator==(const SharedList& other) const {
        return std::equal(elements_.begin(), elements_.end(), other.elements_.begin(),
                          other.elements_.end(),
                          [](const auto& a, const auto& b) { return a == b || *a == *b; });
    }

  private:
    std::vector<std::shared_ptr<T>> elements_;
};

// A map that is copied as a whole when it is changed, which is seldom.
template <class Key, class Value>
class SharedMap {
  public:
    using Map = std::map<Key, Value>;
    SharedMap() = default;
    SharedMap(const SharedMap&) = default;  // moved from, too, it is a map as before
    SharedMap& operator=(const SharedMap&) = default;
    auto begin() const { return map_->cbegin(); }
    auto end() const { return map_->cend(); }
    auto find(const Key& key) const { return std::as_const(*map_).find(key); }
    bool contains(const Key& key) const { return map_->contains(key); }
    std::size_t size() const { return map_->size(); }
    bool empty() const { return map_->empty(); }
    // As std::map's: the key may be a part of the value that is moved from.
    template <class K, class V>
    void emplace(K&& key, V&& value) {
        if (!map_->contains(key)) own().emplace(std::forward<K>(key), std::forward<V>(value));
    }
    template <class Gone>
    void eraseIf(const Gone& gone) {
        std::erase_if(own(), gone);
    }
    void clear() { map_ = std::make_shared<Map>(); }
    // To be changed in place: from now on nobody else's.
    Map& own() {
        if (map_.use_count() > 1) map_ = std::make_shared<Map>(*map_);
        return *map_;
    }
    bool operator==(const SharedMap& o) const { return map_ == o.map_ || *map_ == *o.map_; }

  private:
    std::shared_ptr<Map> map_ = std::make_shared<Map>();
};

}  // namespace zl
