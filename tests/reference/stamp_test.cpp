// SPDX-License-Identifier: GPL-3.0-or-later
// Marked photographs read by others: libjpeg-turbo's djpeg, Pillow and NumPy for pixels, exiftool
// and Exiv2's own command for metadata.
#include <fmt/core.h>

#include "python.h"
#include "wide_profile.h"

namespace zl {
namespace {

using test::good;
using test::zledge;

constexpr const char* make = R"(
import os
rng = np.random.default_rng(7)
y, x = np.mgrid[0:301, 0:437]
base = np.stack([x * 0.5 + 20, y * 0.7 + 10, 120 + 60 * np.sin(x / 9.0)], 2)
base = (base + rng.normal(0, 6, base.shape)).clip(0, 255).astype(np.uint8)
photo = Image.fromarray(base)
os.makedirs(folder + 'in', exist_ok=True)
photo.save(folder + 'in/full.jpg', quality=92, subsampling=0)
photo.save(folder + 'in/wide.jpg', quality=85, subsampling=1)
photo.save(folder + 'in/half.jpg', quality=75, subsampling=2)
photo.save(folder + 'in/scans.jpg', quality=80, progressive=True)
photo.save(folder + 'in/own-codes.jpg', quality=80, optimize=True)
photo.save(folder + 'in/fine.jpg', quality=100, subsampling=0)
photo.convert('L').save(folder + 'in/grey.jpg', quality=90)
photo.convert('CMYK').save(folder + 'in/inks.jpg', quality=90)
for o in range(1, 9):
    exif = Image.Exif()
    exif[0x112] = o
    photo.save(folder + f'in/turned-{o}.jpg', quality=92, exif=exif)
mark = np.zeros((50, 90, 4), np.uint8)
mark[..., 0] = 250
mark[..., 1] = np.linspace(0, 255, 90)[None, :]
mark[..., 3] = np.linspace(30, 255, 50)[:, None]
Image.fromarray(mark).save(folder + 'mark.png')
json.dump({'format': 1, 'what': {'picture': 'mark.png'}, 'width': 90, 'of': 'px',
           'inset': [24, 17], 'opacity': 0.8}, open(folder + 'r.json', 'w'))
print('{}')
)";

TEST(StampReference, WhatLiesOutsideTheMarkIsTheSameToOthers) {
    const test::Folder folder;
    test::python(folder, make);
    zledge(folder, "stamp r.json --out out in --json");
    const Json told = test::python(folder, R"(
import subprocess
def plain(file):  # without smoothing of chroma: each block by itself
    return np.asarray(Image.open(__import__('io').BytesIO(subprocess.run(
        ['djpeg', '-nosmooth', '-dct', 'int', '-pnm', file], capture_output=True,
        check=True).stdout)))
out = {}
units = {'full': (8, 8), 'wide': (16, 8), 'half': (16, 16), 'scans': (16, 16),
         'own-codes': (16, 16), 'grey': (8, 8), 'fine': (8, 8)}
lines = [json.loads(line) for line in open(folder + '.out')]
for line in lines[:-1]:
    name = line['target'][:-4]
    if name not in units: continue
    a, b = plain(folder + 'in/' + name + '.jpg'), plain(folder + 'out/' + name + '.jpg')
    differs = (a != b) if a.ndim == 2 else (a != b).any(2)
    x, y, w, h = line['mark_rect']
    ux, uy = units[name]
    inside = np.zeros(differs.shape, bool)
    inside[y // uy * uy:-(-(y + h) // uy) * uy, x // ux * ux:-(-(x + w) // ux) * ux] = True
    out[name] = {'outside': int((differs & ~inside).sum()), 'inside': int((differs & inside).sum()),
                 'kept': line['kept_outside'], 'rect': line['mark_rect'],
                 'tables': Image.open(folder + 'in/' + name + '.jpg').quantization
                        == Image.open(folder + 'out/' + name + '.jpg').quantization}
print(json.dumps(out)))");
    ASSERT_EQ(told.size(), 7u);
    for (const auto& [name, one] : told.items()) {
        EXPECT_EQ(one["outside"], 0) << name;
        EXPECT_GT(one["inside"], 3000) << name;
        EXPECT_EQ(one["kept"], true) << name;
        EXPECT_EQ(one["tables"], true) << name;
        EXPECT_EQ(one["rect"], Json::array({437 - 24 - 90, 301 - 17 - 50, 90, 50})) << name;
    }
}

TEST(StampReference, UnderTheMarkIsTheBlendInDoublePrecision) {
    const test::Folder folder;
    test::python(folder, make);
    zledge(folder, "stamp r.json --out out in/fine.jpg in/inks.jpg");
    zledge(folder, "stamp r.json --out exact in/fine.jpg in/inks.jpg --format png");
    const Json told = test::python(folder, R"(
mark = np.asarray(Image.open(folder + 'mark.png')).astype(float)
def blend(name):
    base = np.asarray(Image.open(folder + 'in/' + name).convert('RGB')).astype(float)
    a = mark[..., 3:] / 255 * 0.8
    part = base[234:284, 323:413]
    base[234:284, 323:413] = part * (1 - a) + mark[..., :3] * a
    return base
def off(file, want):
    got = np.asarray(Image.open(folder + file).convert('RGB')).astype(float)
    return float(np.abs(got - want)[234:284, 323:413].max())
fine = blend('fine.jpg')
print(json.dumps({'jpeg': off('out/fine.jpg', fine), 'png': off('exact/fine.png', fine),
                  'mean': float(np.abs(np.asarray(Image.open(folder + 'out/fine.jpg')).astype(float)
                                       - fine)[234:284, 323:413].mean())})))");
    EXPECT_LE(told["png"].get<double>(), 1.0) << "blended and written without loss";
    // Two roundings of pixels, and one of Y, Cb and Cr with steps of 1, which red meets 1.4 times.
    EXPECT_LE(told["jpeg"].get<double>(), 4.0);
    EXPECT_LE(told["mean"].get<double>(), 0.8);
}

TEST(StampReference, EveryOrientationIsSeenAlike) {
    const test::Folder folder;
    test::python(folder, make);
    zledge(folder, "stamp r.json --out out in");
    const Json told = test::python(folder, R"(
out = []
for o in range(1, 9):
    def seen(where):
        return np.asarray(ImageOps.exif_transpose(
            Image.open(folder + f'{where}/turned-{o}.jpg'))).astype(int)
    a, b = seen('in'), seen('out')
    ys, xs = np.nonzero(np.abs(a - b).max(2) > 12)
    h, w = a.shape[:2]
    out.append([int(w - 24 - xs.max()), int(h - 17 - ys.max()), int(xs.min() - (w - 114)),
                int(ys.min() - (h - 67)),
                int(Image.open(folder + f'out/turned-{o}.jpg').getexif().get(0x112, 1)) - o])
print(json.dumps(out)))");
    for (const Json& one : told) {
        for (int side = 0; side < 4; ++side)
            EXPECT_LE(std::abs(one[static_cast<std::size_t>(side)].get<int>()), 8)
                << "the mark's sides, within a block: " << one.dump();
        EXPECT_EQ(one[4], 0) << "the tag stays, since the pixels do";
    }
}

constexpr const char* tag = R"(
import subprocess, os
os.makedirs(folder + 'tagged', exist_ok=True)
base = Image.fromarray((np.indices((120, 160)).sum(0) % 255).astype(np.uint8)).convert('RGB')
thumb = base.resize((40, 30)); thumb.save(folder + 'thumb.jpg')
for name in ['t.jpg', 't.png', 't.webp']: base.save(folder + 'tagged/' + name)
subprocess.run(['exiftool', '-q', '-overwrite_original', '-Artist=Old name',
    '-Copyright=Old rights', '-GPSLatitude=48.1', '-GPSLongitude=16.3',
    '-GPSLatitudeRef=N', '-GPSLongitudeRef=E',
    '-SerialNumber=12345', '-LensModel=Lens 50', '-XMP-dc:Description=About',
    '-ThumbnailImage<=' + folder + 'thumb.jpg', folder + 'tagged/t.jpg'], check=True)
subprocess.run(['exiftool', '-q', '-overwrite_original', '-Artist=Old name', '-GPSLatitude=48.1',
    '-GPSLatitudeRef=N', folder + 'tagged/t.png', folder + 'tagged/t.webp'], check=True)
recipe = json.load(open(folder + 'r.json'))
recipe.update(width=40, author='New name', rights='© New', address='https://example.org/x')
json.dump(recipe, open(folder + 'own.json', 'w'))
print('{}')
)";
constexpr const char* readTags = R"(
import subprocess
out = {}
for where in ['all', 'author', 'none', 'own']:
    for name in ['t.jpg', 't.png', 't.webp']:
        out[where + '/' + name] = json.loads(subprocess.run(['exiftool', '-j', '-G1', '-n',
            folder + where + '/' + name], capture_output=True, check=True).stdout)[0]
out['exiv2'] = subprocess.run(['exiv2', '-pa', folder + 'own/t.jpg'], capture_output=True,
                              text=True).stdout
print(json.dumps(out))
)";

TEST(StampReference, MetadataIsKeptOrLeftOutAsAsked) {
    const test::Folder folder;
    test::python(folder, make);
    test::python(folder, tag);
    for (const char* keep : {"all", "author", "none"})
        zledge(folder, fmt::format("stamp r.json --out {0} tagged --metadata {0}", keep));
    zledge(folder, "stamp own.json --out own tagged");
    const Json tags = test::python(folder, readTags);
    const Json &all = tags["all/t.jpg"], &author = tags["author/t.jpg"], &none = tags["none/t.jpg"],
               &own = tags["own/t.jpg"];
    EXPECT_EQ(all["IFD0:Artist"], "Old name");
    EXPECT_NEAR(all["Composite:GPSLatitude"].get<double>(), 48.1, 0.001);
    EXPECT_EQ(all["ExifIFD:SerialNumber"], 12345);
    EXPECT_EQ(all["XMP-dc:Description"], "About");
    EXPECT_FALSE(all.contains("IFD1:ThumbnailImage"))
        << "the small picture shows the photograph without its mark";
    EXPECT_EQ(author["IFD0:Artist"], "Old name");
    EXPECT_EQ(author["IFD0:Copyright"], "Old rights");
    for (const auto& [key, value] : author.items()) {
        EXPECT_EQ(key.find("GPS"), std::string::npos) << key;
        EXPECT_EQ(key.find("Serial"), std::string::npos) << key;
        EXPECT_EQ(key.find("Lens"), std::string::npos) << key;
    }
    for (const auto& [key, value] : none.items()) {
        EXPECT_EQ(key.find("IFD0"), std::string::npos) << key;
        EXPECT_EQ(key.find("XMP"), std::string::npos) << key;
    }
    EXPECT_EQ(own["IFD0:Artist"], "New name");
    EXPECT_EQ(own["XMP-dc:Creator"], "New name");
    EXPECT_EQ(own["XMP-dc:Rights"], "© New");
    EXPECT_EQ(own["XMP-xmpRights:WebStatement"], "https://example.org/x");
    for (const char* line : {"Exif.Image.Artist", "Exif.Image.Copyright", "Xmp.dc.rights"})
        EXPECT_NE(tags["exiv2"].get<std::string>().find(line), std::string::npos) << line;
    for (const char* name : {"t.png", "t.webp"}) {
        EXPECT_EQ(tags[std::string("author/") + name]["IFD0:Artist"], "Old name") << name;
        EXPECT_EQ(tags[std::string("own/") + name]["XMP-dc:Creator"], "New name") << name;
        EXPECT_FALSE(tags[std::string("author/") + name].contains("GPS:GPSLatitude")) << name;
        EXPECT_FALSE(tags[std::string("none/") + name].contains("IFD0:Artist")) << name;
    }
}

TEST(StampReference, ADifferentProfileIsKeptAndTheMarksColourIsTheSame) {
    const test::Folder folder;
    test::python(folder, make);
    test::python(folder, test::wideProfile + std::string(R"(
open(folder + 'wide.icc', 'wb').write(icc)
Image.new('RGB', (300, 200), (128, 128, 128)).save(folder + 'wide.jpg', quality=100, subsampling=0,
                                                   icc_profile=icc)
Image.new('RGBA', (60, 40), (200, 60, 40, 255)).save(folder + 'mark.png')
json.dump({'format': 1, 'what': {'picture': 'mark.png'}, 'width': 60, 'of': 'px',
           'inset': [16, 16]}, open(folder + 'r.json', 'w'))
print('{}'))"));
    zledge(folder, "stamp r.json --out out wide.jpg --json");
    const Json told = test::python(folder, R"(
from PIL import ImageCms
import io
im = Image.open(folder + 'out/wide.jpg')
icc = im.info.get('icc_profile')
seen = ImageCms.profileToProfile(im, ImageCms.ImageCmsProfile(io.BytesIO(icc)),
                                 ImageCms.createProfile('sRGB'), renderingIntent=1)
line = json.loads(open(folder + '.out').readline())
print(json.dumps({'same': icc == open(folder + 'wide.icc', 'rb').read(),
                  'stored': im.getpixel((254, 164)), 'seen': seen.getpixel((254, 164)),
                  'kept': line['kept_outside'], 'outside': im.getpixel((20, 20))})))");
    EXPECT_EQ(told["same"], true);
    EXPECT_EQ(told["kept"], true);
    const std::array<int, 3> wanted{200, 60, 40};
    for (std::size_t i = 0; i < 3; ++i)
        EXPECT_NEAR(told["seen"][i].get<int>(), wanted[i], 3) << told.dump();
    EXPECT_GT(std::abs(told["stored"][0].get<int>() - 200), 8) << "the profile made no difference";
}

// A run spread by GNU parallel over this process and, by ssh, over a host: an sshd of the test's
// own on the loopback, with keys of its own.
TEST(StampReference, SpreadOverHostsItIsTheSameBytesAndOneReport) {
    const test::Folder folder;
    test::python(folder, make);
    zledge(folder, "stamp r.json --out whole in --name '{n}-{name}'");
    const std::string program = std::filesystem::path(test::zledgeProgram()).parent_path().string();
    const std::string script = fmt::format(R"(set -e
cd '{}'
export PATH='{}':$PATH HOME="$PWD"
mkdir -p .ssh .parallel; touch .parallel/will-cite; chmod 700 . .ssh
ssh-keygen -q -t ed25519 -N '' -f host; ssh-keygen -q -t ed25519 -N '' -f .ssh/id
cp .ssh/id.pub authorized; chmod 600 authorized
mkdir -p /run/sshd 2>/dev/null || true
for port in 20022 20122 20222 20322; do
    cat > sshd.conf <<END
Port $port
ListenAddress 127.0.0.1
HostKey $PWD/host
AuthorizedKeysFile $PWD/authorized
PidFile $PWD/pid
StrictModes no
UsePAM no
END
    /usr/sbin/sshd -f sshd.conf -E sshd.log || continue
    for i in 1 2 3 4 5 6 7 8 9 10; do [ -s pid ] && break; sleep 0.1; done
    [ -s pid ] && break
done
trap 'kill $(cat pid)' EXIT
cat > by-ssh <<END
#!/bin/sh
exec ssh -q -p $port -i $PWD/.ssh/id -o StrictHostKeyChecking=no \\
    -o UserKnownHostsFile=/dev/null "\$@"
END
chmod 755 by-ssh
zledge stamp r.json --out out in --name '{{n}}-{{name}}' --list > jobs
places="1/:,1/$PWD/by-ssh 127.0.0.1"
parallel --env PATH --env LSAN_OPTIONS -S "$places" --joblog joblog < jobs > said 2>&1
zledge stamp --merge out --json > merged
)",
                                           folder.path().string(), program);
    test::put(folder, "spread.sh", test::bytesOf(script));
    const std::string line = "bash '" + (folder / "spread.sh").string() + "' 2>'" +
                             (folder / "spread.err").string() + "'";
    ASSERT_EQ(::system(line.c_str()), 0) << test::textOf(good(readFile(folder / "spread.err")));
    const Json told = test::python(folder, R"(
import os, hashlib
def files(where):
    return {f: hashlib.sha256(open(folder + where + '/' + f, 'rb').read()).hexdigest()
            for f in os.listdir(folder + where) if f.endswith('.jpg')}
hosts = {line.split('	')[1] for line in open(folder + 'joblog').read().splitlines()[1:]}
print(json.dumps({'same': files('out') == files('whole'), 'count': len(files('out')),
                  'hosts': len(hosts), 'done': json.loads(open(folder + 'merged').read())['done'],
                  'reports': len([f for f in os.listdir(folder + 'out')
                                  if f.endswith('.html')])})))");
    EXPECT_EQ(told["same"], true);
    EXPECT_EQ(told["count"], 16);
    EXPECT_EQ(told["done"], 16);
    EXPECT_EQ(told["hosts"], 2) << "both places had their part";
    EXPECT_EQ(told["reports"], 1);
}

}  // namespace
}  // namespace zl
