# Completion of stasis in bash: the program itself says what may stand where the cursor is.
_stasis() {
  local IFS=$'\n' current=${COMP_WORDS[COMP_CWORD]}
  # A value after an equals sign is a word of its own here; paths are asked for up to that sign.
  COMPREPLY=($(stasis complete "$COMP_CWORD" "${COMP_WORDS[@]}" 2>/dev/null))
  [[ ${#COMPREPLY[@]} -eq 1 && ${COMPREPLY[0]} == *= ]] && compopt -o nospace
}
complete -o default -F _stasis stasis
