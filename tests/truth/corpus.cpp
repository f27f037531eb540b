// SPDX-License-Identifier: GPL-3.0-or-later
#include "corpus.h"

#include <fmt/core.h>

#include <atomic>
#include <fstream>
#include <mutex>
#include <thread>

#include "picture/decode.h"

namespace zl::truth {
namespace {

std::string told(const char* name) {
    const char* value = std::getenv(name);
    return value ? value : "";
}

// FNV-1a (from memory): which half a name is in depends on nothing else.
unsigned hashOf(const std::string& name) {
    unsigned hash = 2166136261u;
    for (const char c : name) hash = (hash ^ static_cast<unsigned char>(c)) * 16777619u;
    return hash ^ hash >> 15;
}

struct Row {
    std::string what, seen, goal;
};
std::vector<Row>& rows() {
    static std::vector<Row> all;
    return all;
}

class Table : public ::testing::Environment {
  public:
    void TearDown() override {
        std::string text = "| what | seen | goal |\n|---|---|---|\n";
        for (const Row& r : rows())
            text += fmt::format("| {} | {} | {} |\n", r.what, r.seen, r.goal);
        fmt::print("{}", text);
        const std::string file = told("ZL_TRUTH_WRITE");
        if (!file.empty()) std::ofstream(file) << text;
    }
};
const auto* const table = ::testing::AddGlobalTestEnvironment(new Table);

}  // namespace

Path corpusFolder() {
    const std::string chosen = told("ZL_CORPUS"), cache = told("XDG_CACHE_HOME"),
                      home = told("HOME");
    if (!chosen.empty()) return chosen;
    return (cache.empty() ? Path(home) / ".cache" : Path(cache)) / "zinc-ledge/corpus";
}

std::vector<Item> items(const std::string& kind) {
    std::vector<Item> all;
    const bool tuning = told("ZL_TRUTH_HALF") == "tune";
    for (const auto& entry : std::filesystem::recursive_directory_iterator(corpusFolder() / kind)) {
        if (entry.path().extension() != ".png") continue;
        Item item{entry.path().parent_path().filename().string(), entry.path().stem().string(),
                  entry.path()};
        // A photograph's parts stay with it.
        const bool isPart = kind == "photos" || kind == "grounds";
        const std::string name =
            isPart ? item.name.substr(0, item.name.find('-')) : item.family + "/" + item.name;
        if (kind != "faces" && (hashOf(name) % 2 == 0) != tuning) continue;
        all.push_back(std::move(item));
    }
    std::sort(all.begin(), all.end(), [](const Item& a, const Item& b) { return a.file < b.file; });
    if (all.size() < 10 && kind != "faces")
        throw std::runtime_error("the corpus is missing: scripts/corpus.sh brings it");
    return all;
}

Straight8 pictureOf(const Item& item) {
    return test::good(decode(test::good(readFile(item.file)), item.name)).pixels->clone();
}

void forAll(const std::vector<Item>& all, const std::function<void(std::size_t)>& each) {
    std::atomic<std::size_t> next = 0;
    std::vector<std::jthread> threads;
    for (unsigned i = 0; i < std::max(1u, std::thread::hardware_concurrency()); ++i)
        threads.emplace_back([&] {
            for (std::size_t n = next++; n < all.size(); n = next++) each(n);
        });
}

void list(const std::string& what, const Item& item, const std::string& how) {
    static std::mutex one;
    if (told("ZL_TRUTH_LIST").empty()) return;
    const std::lock_guard lock(one);
    fmt::print("  {}: {}/{} {}\n", what, item.family, item.name, how);
}

void row(const std::string& what, const std::string& seen, const std::string& goal) {
    rows().push_back({what, seen, goal});
}

}  // namespace zl::truth
