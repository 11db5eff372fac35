# Where the gems are kept: outside the project, so that a second clone finds them again. What root
# installs can be read by the account that the server runs as.
export BUNDLE_GEMFILE="$here/Gemfile"
if [ -n "${HANDRAIL_GEMS:-}" ]; then
  BUNDLE_PATH="$HANDRAIL_GEMS"
elif [ "$(id -u)" = 0 ]; then
  BUNDLE_PATH=/var/cache/handrail/bundle
else
  BUNDLE_PATH="${XDG_CACHE_HOME:-${HOME:-/tmp}/.cache}/handrail/bundle"
fi
export BUNDLE_PATH
export BUNDLE_JOBS="${BUNDLE_JOBS:-2}" BUNDLE_RETRY="${BUNDLE_RETRY:-2}" BUNDLE_FROZEN=true
export LANG="${LANG:-C.UTF-8}"
