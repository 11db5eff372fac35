# Where the gems are kept: outside the project, so that a second clone finds them again.
export BUNDLE_GEMFILE="$here/Gemfile"
export BUNDLE_PATH="${HANDRAIL_GEMS:-${XDG_CACHE_HOME:-${HOME:-/tmp}/.cache}/handrail/bundle}"
export BUNDLE_JOBS="${BUNDLE_JOBS:-2}" BUNDLE_RETRY="${BUNDLE_RETRY:-2}" BUNDLE_FROZEN=true
export LANG="${LANG:-C.UTF-8}"
