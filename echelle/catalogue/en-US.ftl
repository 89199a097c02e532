### American English, where it differs from the British.

note-points-coloured = ; colors: { $column }
note-difference = Black dots: { $differences } to { $whom }, whose center is the dashed line; lines: { $level } % intervals ({ $how }){ $curve ->
    [yes] ; curves: the density of the estimate
   *[no] {""}
}.
