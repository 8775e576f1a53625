#!/bin/sh
# Chromium and its driver, from Debian's packages where they are missing.
if command -v chromium >/dev/null && command -v chromedriver >/dev/null; then exit 0; fi
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium chromium-driver >/dev/null && exit 0
fi
echo "The browser tests need Chromium and ChromeDriver: apt-get install chromium chromium-driver"
exit 1
