#!/usr/bin/env bash
# Brings the real pictures that the truth tests look at: icons, clip art and photographs of Debian packages. Usage: corpus.sh FOLDER
# They are unpacked into FOLDER, a cache; nothing of them is committed or shipped. Does nothing when they are there already.
set -euo pipefail
here=$(cd "$(dirname "$0")" && pwd)
folder=$1
edition=2  # another number makes the pictures anew
[[ -f "$folder/edition" && "$(cat "$folder/edition")" == "$edition" ]] && exit 0

packages=(tango-icon-theme adwaita-icon-theme gnome-icon-theme mate-icon-theme elementary-xfce-icon-theme
  openclipart-svg gnome-backgrounds mate-backgrounds lomiri-wallpapers-16.04 lxqt-themes)
rm -rf "$folder"
mkdir -p "$folder/debs" "$folder/unpacked"
fetch() { (cd "$folder/debs" && apt-get -qq -o APT::Sandbox::User=root download "${packages[@]}"); }
# A list of packages that is too old, or not there yet, is renewed once.
fetch || { as_root=(); [[ $(id -u) -eq 0 ]] || as_root=(sudo); "${as_root[@]}" apt-get update -qq; fetch; }
for file in "$folder"/debs/*.deb; do
  name=$(basename "$file")
  mkdir -p "$folder/unpacked/${name%%_*}"
  dpkg-deb -x "$file" "$folder/unpacked/${name%%_*}"
done
/usr/bin/python3 "$here/corpus.py" "$folder"
rm -rf "$folder/debs" "$folder/unpacked"
echo "$edition" >"$folder/edition"
