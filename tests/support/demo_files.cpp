// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo_files.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include "store/kit_file.h"
#include "support/places.h"

namespace zl::test {
namespace {

namespace fs = std::filesystem;

bool isNewerThanThisProgram(const Path& file) {
    std::error_code missing;
    const auto made = fs::last_write_time(file, missing);
    return !missing && made > fs::last_write_time(fs::read_symlink("/proc/self/exe"));
}

}  // namespace

const Path& demoFolder() {
    static const Path folder = [] {
        Path kept = Path(buildFolder()) / "demo-kit";
        // One program makes it, the others wait for it.
        const int lock =
            ::open((kept.string() + ".lock").c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0666);
        if (lock < 0 || ::flock(lock, LOCK_EX) != 0)
            throw std::runtime_error("There is no lock for " + kept.string());
        if (!isNewerThanThisProgram(kept / demo::kitFileName)) {
            const Path fresh = kept.string() + ".new";
            fs::remove_all(fresh);
            fs::remove_all(kept);
            good(demo::writeDemoKit(fresh, Replace::no));
            fs::rename(fresh, kept);
        }
        ::close(lock);
        return kept;
    }();
    return folder;
}

const demo::DemoKit& madeDemo() {
    static const demo::DemoKit made = [] {
        demo::DemoKit read{good(openKit(demoFolder() / demo::kitFileName)), {}};
        for (const auto& entry : fs::directory_iterator(demoFolder() / "media"))
            read.media.push_back({entry.path().filename().string(), good(readFile(entry.path()))});
        return read;
    }();
    return made;
}

void putDemo(const Folder& folder, const std::string& name) {
    fs::copy(demoFolder(), folder / name, fs::copy_options::recursive);
}

}  // namespace zl::test
