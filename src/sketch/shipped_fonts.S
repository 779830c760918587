/* The fonts that ship with Kervo, byte for byte, so that what is written in them looks the same on every machine. */
    .section .rodata
    .balign 16
    .globl kervo_font_lettering_begin
    .globl kervo_font_lettering_end
    .globl kervo_font_sans_begin
    .globl kervo_font_sans_end
kervo_font_lettering_begin:
    .incbin "osifont.ttf"
kervo_font_lettering_end:
    .balign 16
kervo_font_sans_begin:
    .incbin "IBMPlexSans-Regular.ttf"
kervo_font_sans_end:
    .section .note.GNU-stack, "", %progbits
