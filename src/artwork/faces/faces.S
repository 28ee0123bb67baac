/* The shipped faces, byte by byte. */
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
    face ferro_face_spartan, "LeagueSpartan-Bold.otf"
    face ferro_face_bebas, "BebasNeue-Bold.otf"
    face ferro_face_stencil, "allerta_stencil.otf"
    face ferro_face_single, "futural.jhf"
    .section .note.GNU-stack,"",%progbits
