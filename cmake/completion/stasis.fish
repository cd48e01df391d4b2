# Completion of stasis in fish: the program itself says what may stand where the cursor is.
function __stasis_complete
    set -l words (commandline -opc) (commandline -ct)
    stasis complete (math (count $words) - 1) $words 2>/dev/null
end
complete -c stasis -a '(__stasis_complete)'
