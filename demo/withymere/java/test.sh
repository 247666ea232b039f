#!/bin/sh
# Runs the tests that compile.sh has compiled; their reports are in build/reports.
set -e
cd "$(dirname "$0")"
jars=${JUNIT_JARS:-/usr/share/java}
if [ ! -e "$jars/junit-platform-console.jar" ]; then
  echo "JUnit 5 is not in $jars: install Debian's package junit5, or name the folder of its jars in JUNIT_JARS." >&2
  exit 2
fi
classpath="build/classes:lib/*"
for name in junit-platform-console junit-platform-commons junit-platform-engine junit-platform-launcher junit-platform-reporting junit-jupiter-api junit-jupiter-engine junit-jupiter-params opentest4j apiguardian-api picocli univocity-parsers; do
  classpath="$classpath:$jars/$name.jar"
done
java -cp "$classpath" org.junit.platform.console.ConsoleLauncher --scan-classpath build/classes --reports-dir build/reports --details tree --disable-banner
