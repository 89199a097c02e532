### American English, where it differs from the British.

note-points-coloured = ; colors: { $column }
note-difference = Black dots: { $differences } to { $whom }, whose center is the dashed line; lines: { $level } % intervals ({ $how }){ $curve ->
    [yes] ; curves: the density of the estimate
   *[no] {""}
}.
fence = { $rule ->
    [quartiles] { $k } × the interquartile range from the quartiles
    [percentiles] the { $low } and { $high } percentile
    [full-range] the full range
    [none] no limit
    [mean-and-SD] mean ± { $k } × SD
    [median-and-MAD] median ± { $k } × 1.4826 × MAD
    [skew-adjusted] { $k } × the interquartile range from the quartiles, adjusted for skew (medcouple)
   *[extreme-deviates] generalized extreme Studentized deviates (at most { $k })
}{ $of ->
    [logarithms] {" "}of the logarithms
   *[values] {""}
}
advice-shared-colours = { $lanes } lanes share { $colours ->
    [one] 1 color
   *[other] { $colours } colors
}.
    .why = Lay fewer lanes over one another, or give them panels.
advice-one-grey = Some of these colors are one gray in print.
    .why = Their lightness is nearly the same.
remedy-greys = Grays
