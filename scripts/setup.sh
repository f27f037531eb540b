#!/usr/bin/env bash
# Installs what the build and the tests need, from Debian's packages. Usage: setup.sh [--tests|--benchmarks]
# Without --tests only what the programs need. Does nothing when everything is there already.
set -euo pipefail

packages=(g++ cmake ninja-build ccache pkg-config
  mold qt6-base-dev qt6-base-dev-tools qt6-svg-dev libgl1-mesa-dev xvfb xauth
  libvips-dev libgdk-pixbuf-2.0-dev libcgif-dev libimagequant-dev libdeflate-dev libjpeg62-turbo-dev liblcms2-dev libopencv-core-dev libopencv-imgproc-dev libopencv-objdetect-dev opencv-data libavformat-dev libavcodec-dev libavfilter-dev libswresample-dev libavutil-dev libexiv2-dev libzimg-dev libwebp-dev libcubeb-dev libebur128-dev libpango1.0-dev libxml2-dev libzip-dev nlohmann-json3-dev libcli11-dev libexpected-dev libfmt-dev)
if [[ "${1:-}" == --tests ]]; then
  # The references of the tests (Pillow, NumPy, scikit-image, libpng's and libjpeg's own tools) are for tests only.
  packages+=(libgtest-dev librapidcheck-dev libbenchmark-dev clang clang-format clang-tidy
    python3 python3-pil python3-numpy python3-scipy python3-skimage python3-colorspacious python3-fonttools python3-jsonschema pngcheck libjpeg-turbo-progs
    optipng zopfli librsvg2-bin ffmpeg pulseaudio exiv2 libimage-exiftool-perl parallel openssh-client openssh-server)
fi
if [[ "${1:-}" == --benchmarks ]]; then
  packages+=(libbenchmark-dev libopencv-dev ffmpeg)  # OpenCV is a reference to be timed against, nothing more
fi

missing=()
for package in "${packages[@]}"; do
  dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q '^install ok installed$' || missing+=("$package")
done
((${#missing[@]})) || exit 0

if ! command -v apt-get >/dev/null; then
  echo "setup.sh: this is no Debian system; install these by hand: ${missing[*]}" >&2
  exit 1
fi
as_root=()
if [[ $(id -u) -ne 0 ]]; then
  command -v sudo >/dev/null || { echo "setup.sh: run it as root, to install: ${missing[*]}" >&2; exit 1; }
  as_root=(sudo)
fi
echo "Installing ${#missing[@]} packages: ${missing[*]}"
"${as_root[@]}" apt-get update -qq
"${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
# The tests start an sshd of their own on the loopback; none shall listen on this machine for them.
if [[ " ${missing[*]} " == *" openssh-server "* ]] && command -v systemctl >/dev/null; then
  "${as_root[@]}" systemctl disable --now ssh >/dev/null 2>&1 || true
fi
