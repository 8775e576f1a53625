#!/bin/sh
# Chromium and its driver, from Debian's packages where they are missing: the headless shell, which costs a third of what
# the whole browser does, else that.
has() { command -v "$1" >/dev/null; }
get() { DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null 2>&1; }
if has chromium-headless-shell && has chromedriver; then exit 0; fi
if [ "$(id -u)" = 0 ] && has apt-get; then
  apt-get update -qq && get chromium-headless-shell chromium-driver && exit 0
  has chromium && has chromedriver && exit 0
  get chromium chromium-driver && exit 0
fi
if has chromium && has chromedriver; then exit 0; fi
echo "The browser tests need Chromium and ChromeDriver: apt-get install chromium chromium-driver"
exit 1
