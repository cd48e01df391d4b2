#compdef stasis
# Completion of stasis in zsh: the program itself says what may stand where the cursor is.
local -a found
found=("${(@f)$(stasis complete $((CURRENT - 1)) "${words[@]}" 2>/dev/null)}")
if [[ -n ${found[1]} ]]; then
  compadd -S '' -- "${found[@]}"
else
  _files
fi
