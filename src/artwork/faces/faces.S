/* The shipped faces, byte by byte. */
    .include "face.inc"
    face ferro_face_spartan, "LeagueSpartan-Bold.otf"
    face ferro_face_bebas, "BebasNeue-Bold.otf"
    face ferro_face_stencil, "allerta_stencil.otf"
    face ferro_face_single, "futural.jhf"
    .section .note.GNU-stack,"",%progbits
