/* The face of printed pages, byte by byte. */
    .section .rodata
    .macro face name, file
    .global \name
    .global \name\()_end
    .balign 16
\name:
    .incbin "\file"
\name\()_end:
    .byte 0
    .endm
    face ferro_print_regular, "B612-Regular.otf"
    face ferro_print_bold, "B612-Bold.otf"
    .section .note.GNU-stack,"",%progbits
