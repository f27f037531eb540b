// SPDX-License-Identifier: GPL-3.0-or-later
// Videos against FFmpeg's own command line in the same run. The footage is made up: 1080p30 with
// B-frames and a key frame every 300, and the same in other codecs.
#include <fmt/core.h>
#include <sys/resource.h>

#include <cstdlib>
#include <fstream>
#include <map>
#include <random>

#include "film/candidates.h"
#include "film/strip.h"
#include "pair.h"
#include "twelve_layers.h"
#include "video/video.h"

namespace zl::bench {
namespace {

void shell(const std::string& command) {
    if (std::system((command + " >/dev/null 2>&1").c_str()) != 0)
        throw std::runtime_error("it failed: " + command);
}

// Footage is made once for all benchmarks of a run.
class Footage {
  public:
    ~Footage() { std::filesystem::remove_all(folder_); }
    static Path of(const std::string& name) {
        static Footage all;
        return all.made(name);
    }
    static Path folder() { return of("").parent_path(); }

  private:
    Path made(const std::string& name) {
        std::filesystem::create_directories(folder_);
        const Path file = folder_ / (name.empty() ? "none" : name);
        if (name.empty() || std::filesystem::exists(file)) return file;
        const auto from = [&](const char* size, int seconds, const std::string& words) {
            shell(
                fmt::format("ffmpeg -v error -y -f lavfi -i "
                            "'testsrc2=s={}:r=30:d={},noise=alls=6:allf=t' {} '{}'",
                            size, seconds, words, file.string()));
        };
        const std::string x264 = "-c:v libx264 -preset veryfast -bf 3 -g 300 -pix_fmt yuv420p";
        if (name == "h264.mp4") from("1920x1080", 40, x264);
        if (name == "hevc.mp4")
            from("1920x1080", 12,
                 "-c:v libx265 -preset ultrafast -x265-params log-level=error:keyint=300 -pix_fmt "
                 "yuv420p");
        if (name == "mpeg2.mpg")
            from("1920x1080", 20, "-c:v mpeg2video -bf 2 -g 15 -q:v 6 -pix_fmt yuv420p");
        if (name == "mpeg4.avi") from("1920x1080", 20, "-c:v mpeg4 -bf 2 -g 250 -q:v 6");
        if (name == "vp9.webm")
            from("1920x1080", 12,
                 "-c:v libvpx-vp9 -deadline realtime -cpu-used 8 -g 300 -b:v 4M -pix_fmt yuv420p");
        if (name == "long.mp4")
            shell(fmt::format("ffmpeg -v error -y -stream_loop 14 -i '{}' -c copy '{}'",
                              made("h264.mp4").string(), file.string()));
        if (name == "4k.mp4") from("3840x2160", 6, x264);
        if (name == "hour.mp4")
            shell(fmt::format("ffmpeg -v error -y -stream_loop 599 -i '{}' -c copy '{}'",
                              made("4k.mp4").string(), file.string()));
        return file;
    }
    Path folder_ =
        std::filesystem::temp_directory_path() / fmt::format("zinc-ledge-footage-{}", ::getpid());
};

double cpuSeconds(int who) {
    rusage used{};
    ::getrusage(who, &used);
    return static_cast<double>(used.ru_utime.tv_sec + used.ru_stime.tv_sec) +
           static_cast<double>(used.ru_utime.tv_usec + used.ru_stime.tv_usec) / 1e6;
}

// From a closed file to a frame at some second, as the reference does it.
void exactStill(benchmark::State& state, const std::string& name) {
    const Path file = Footage::of(name);
    const double length = must(Video::open(file)).facts().duration;
    std::mt19937 random(3);
    std::uniform_real_distribution<double> some(0.1, length - 0.2);
    double at = some(random);
    compare(
        state,
        [&] {
            Video video = must(Video::open(file));
            benchmark::DoNotOptimize(must(video.frame(must(video.numberAt(at)))));
            at = some(random);
        },
        [&] {
            shell(
                fmt::format("ffmpeg -v error -noautorotate -ss {:.3f} -i '{}' -frames:v 1 -vsync "
                            "passthrough -f framemd5 -",
                            at, file.string()));
        });
}

void index(benchmark::State& state) {
    const Path file = Footage::of("long.mp4");
    compare(
        state, [&] { benchmark::DoNotOptimize(must(Video::open(file))); },
        [&] {
            shell(
                fmt::format("ffprobe -v error -select_streams v -show_entries packet=pts -of "
                            "csv '{}'",
                            file.string()));
        });
}

// The file is open already.
void keyFrame(benchmark::State& state) {
    const Path file = Footage::of("h264.mp4");
    Video video = must(Video::open(file));
    std::mt19937 random(4);
    std::uniform_real_distribution<double> some(0.1, video.facts().duration - 0.2);
    double at = some(random);
    compare(
        state,
        [&] {
            benchmark::DoNotOptimize(must(video.keyFrame(must(video.numberAt(at)), {854, 480})));
            at = some(random);
        },
        [&] {
            shell(
                fmt::format("ffmpeg -v error -skip_frame nokey -noaccurate_seek -ss {:.3f} -i "
                            "'{}' -frames:v 1 -vf scale=854:480 -f null -",
                            at, file.string()));
        });
}

void strip(benchmark::State& state) {
    const Path file = Footage::of("h264.mp4");
    const Path kept = Footage::folder() / "strips";
    Video video = must(Video::open(file));
    compare(
        state,
        [&] {
            std::filesystem::remove_all(kept);
            benchmark::DoNotOptimize(must(Strip::make(video, kept, "bench")));
        },
        [&] { shell(fmt::format("ffmpeg -v error -i '{}' -an -f null -", file.string())); });
    // Pictures out of it, at random.
    const auto made = Strip::kept(kept, "bench");
    std::mt19937 random(5);
    std::uniform_real_distribution<double> some(0, video.facts().duration);
    std::vector<double> ms;
    for (int i = 0; i < 400; ++i) {
        const double at = some(random);
        ms.push_back(milliseconds([&] { benchmark::DoNotOptimize(made->nearest(at)); }));
    }
    std::sort(ms.begin(), ms.end());
    state.counters["picture_p99_ms"] = ms[ms.size() * 99 / 100];
    state.counters["kB_a_picture"] =
        static_cast<double>(std::filesystem::file_size(kept / "bench.strip")) / 1000 /
        static_cast<double>(made->size());
}

// Processor time: every frame at half its size, as it is played.
void playing(benchmark::State& state) {
    const Path file = Footage::of("h264.mp4");
    Video video = must(Video::open(file));
    std::vector<double> mine, theirs;
    for (auto _ : state) {
        double before = cpuSeconds(RUSAGE_CHILDREN);
        shell(
            fmt::format("ffmpeg -v error -i '{}' -an -vf scale=960:540 -f null -", file.string()));
        theirs.push_back(cpuSeconds(RUSAGE_CHILDREN) - before);
        before = cpuSeconds(RUSAGE_SELF);
        static_cast<void>(video.play(0, {960, 540}, [](long long, double, const auto& make) {
            benchmark::DoNotOptimize(must(make()));
            return true;
        }));
        mine.push_back(cpuSeconds(RUSAGE_SELF) - before);
        state.SetIterationTime(mine.back());
    }
    state.counters["ours_cpu_s"] = median(mine);
    state.counters["reference_cpu_s"] = median(theirs);
    state.counters["ratio"] = median(mine) / median(theirs);
}

void proposals(benchmark::State& state) {
    const Path file = Footage::of("h264.mp4");
    Video video = must(Video::open(file));
    double first = 0;
    compare(
        state,
        [&] {
            first = milliseconds([&] {
                for (const Candidate& one : thirdsOf(video, {0, video.facts().duration}))
                    benchmark::DoNotOptimize(must(video.keyFrame(one.number, {336, 192})));
            });
            benchmark::DoNotOptimize(must(candidatesOf(video, 8)));
        },
        [&] { shell(fmt::format("ffmpeg -v error -i '{}' -an -f null -", file.string())); });
    state.counters["first_three_ms"] = first;
}

// What an hour in 4K takes more while one drags along it and stops here and there, MB at its most.
void memoryOfScrubbing(benchmark::State& state) {
    const Path file = Footage::of("hour.mp4");
    const auto most = [] {
        std::ifstream status("/proc/self/status");
        for (std::string line; std::getline(status, line);)
            if (line.starts_with("VmHWM:")) return std::stod(line.substr(6)) / 1000;
        return 0.0;
    };
    std::ofstream("/proc/self/clear_refs") << "5";
    const double before = most();
    for (auto _ : state) {
        Video keys = must(Video::open(file));
        Video exact = must(keys.again());
        std::mt19937 random(6);
        std::uniform_real_distribution<double> some(0, keys.facts().duration);
        for (int i = 0; i < 60; ++i) {
            const double at = some(random);
            const long long number = must(keys.numberAt(at));
            benchmark::DoNotOptimize(must(keys.keyFrame(number, {854, 480})));
            if (i % 10 == 0) benchmark::DoNotOptimize(must(exact.frame(number)));
        }
    }
    state.counters["MB"] = most() - before;
}

BENCHMARK_CAPTURE(exactStill, h264, "h264.mp4")->UseManualTime()->Iterations(15);
BENCHMARK_CAPTURE(exactStill, hevc, "hevc.mp4")->UseManualTime()->Iterations(9);
BENCHMARK_CAPTURE(exactStill, mpeg2, "mpeg2.mpg")->UseManualTime()->Iterations(9);
BENCHMARK_CAPTURE(exactStill, mpeg4, "mpeg4.avi")->UseManualTime()->Iterations(9);
BENCHMARK_CAPTURE(exactStill, vp9, "vp9.webm")->UseManualTime()->Iterations(9);
BENCHMARK(index)->Name("videoIndex")->UseManualTime()->Iterations(9);
BENCHMARK(keyFrame)->UseManualTime()->Iterations(25);
BENCHMARK(strip)->Name("stripPass")->UseManualTime()->Iterations(5);
BENCHMARK(playing)->UseManualTime()->Iterations(5);
BENCHMARK(proposals)->UseManualTime()->Iterations(5);
BENCHMARK(memoryOfScrubbing)->Iterations(1);

}  // namespace
}  // namespace zl::bench
