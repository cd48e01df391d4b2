# Flags for our own targets only; never exported to users of the library.
add_library(stasis_build_flags INTERFACE)
target_compile_options(
  stasis_build_flags
  INTERFACE -Wall
            -Wextra
            -Wpedantic
            -Wshadow
            -Wconversion
            -Wsign-conversion
            -Wdouble-promotion
            -Wold-style-cast
            # One rounding per operation, so that every build writes the same digits.
            -ffp-contract=off
            $<$<BOOL:${STASIS_WERROR}>:-Werror>)
