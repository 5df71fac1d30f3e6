#!/usr/bin/env bash
# Pins every package, direct or not, from the ranges in pyproject.toml.
set -euo pipefail
tool=$(mktemp -d)
trap 'rm -rf "$tool"' EXIT
.venv/bin/python -m venv "$tool"
"$tool/bin/pip" install --quiet pip-tools
compile=("$tool/bin/pip-compile" --quiet --strip-extras --no-header --no-emit-index-url --no-emit-find-links)
"${compile[@]}" --output-file requirements.txt pyproject.toml
"${compile[@]}" --extra dev --output-file requirements-dev.txt --constraint requirements.txt pyproject.toml
sed -i '1i # Pinned by `make pins` from pyproject.toml; do not edit by hand. docs/packages.md: what each is for.' requirements.txt
sed -i '1i # Pinned by `make pins` from pyproject.toml [dev]; do not edit by hand.' requirements-dev.txt
