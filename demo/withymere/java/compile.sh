#!/bin/sh
# Compiles the office and its tests into build/. Needs a JDK of 17 or later, and JUnit 5 where the tests are to run.
set -e
cd "$(dirname "$0")"
jars=${JUNIT_JARS:-/usr/share/java}
classpath="lib/*"
sources=$(find src/main -name '*.java')
if [ -e "$jars/junit-jupiter-api.jar" ]; then
  for name in junit-jupiter-api junit-platform-commons opentest4j apiguardian-api; do classpath="$classpath:$jars/$name.jar"; done
  sources="$sources $(find src/test -name '*.java')"
fi
rm -rf build/classes
mkdir -p build/classes
javac --release 17 -encoding UTF-8 -nowarn -d build/classes -cp "$classpath" $sources
