#!/bin/sh
# Builds the kits into ../lib. Needs a JDK of 17 or later.
set -e
cd "$(dirname "$0")"
mkdir -p ../lib
for kit in signal-kit sluice-display; do
  rm -rf build && mkdir build
  javac --release 17 -d build $(find "$kit" -name '*.java')
  jar --create --no-manifest --date=2026-01-01T00:00:00Z --file "../lib/$kit.jar" -C build .
  rm -rf build
done
