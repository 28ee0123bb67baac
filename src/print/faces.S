/* The face of printed pages, byte by byte. */
    .include "face.inc"
    face ferro_print_regular, "B612-Regular.otf"
    face ferro_print_bold, "B612-Bold.otf"
    .section .note.GNU-stack,"",%progbits
