### The words of figures in British English. Values stand in braces; en-US.ftl says what differs there.

## Lists and counts

list-more = { $names } and { $more } more
count-rows = { $count ->
    [one] 1 row
   *[other] { $count } rows
}
count-values = { $count ->
    [one] 1 value
   *[other] { $count } values
}
count-lanes = { $count ->
    [one] 1 lane
   *[other] { $count } lanes
}
range = { $low } to { $high }

## Rules, kernels and methods by their names

rule = { $rule ->
    [silverman] Silverman
    [scott] Scott
    [sheather-jones] Sheather–Jones
    [improved-plug-in] improved plug-in
    [sturges] Sturges
    [freedman-diaconis] Freedman–Diaconis
    [square-root] square root
    [rice] Rice
    [doane] Doane
    [gaussian] Gaussian
    [epanechnikov] Epanechnikov
    [raised-cosine] raised cosine
   *[other] { $rule }
}
difference = { $of ->
    [means] differences of means
    [medians] differences of medians
   *[shift] Hodges–Lehmann shifts
}
difference-interval = { $of ->
    [means] Welch's t
    [medians] bootstrap BCa, seed { $seed }
   *[shift] order statistics
}
fence = { $rule ->
    [quartiles] { $k } × the interquartile range of the box
    [percentiles] the { $low }th and { $high }th percentile
    [full-range] the full range
    [none] no limit
    [mean-and-SD] mean ± { $k } × SD
    [median-and-MAD] median ± { $k } × 1.4826 × MAD
    [skew-adjusted] { $k } × the interquartile range of the box, adjusted for skew (medcouple)
   *[extreme-deviates] generalised extreme Studentised deviates (at most { $k })
}
interval = { $kind ->
    [SD] ±1 SD
    [SE] ±1 SE
    [confidence] { $level } % confidence interval of the { $centre }
    [bootstrap-percentile] { $level } % bootstrap interval of the { $centre } (percentile)
    [bootstrap-BCa] { $level } % bootstrap interval of the { $centre } (BCa)
   *[none] {""}
}
outlier-marks = { $shaped ->
    [no-points] diamonds
    [no] open diamonds
   *[yes] open marks
}

## Method note: boxes

note-box = Boxes: median and { $middle } (type { $type }); lines reach { $lines }{ $outliers }.
note-box-quartiles = quartiles
note-box-central = the central { $share } % of values
note-box-extremes = the extremes
note-box-within = the furthest value within { $fence }
note-box-outliers = ; { $marks } lie beyond{ $fence }
brief-box = boxes: median and { $middle }, lines to { $lines }
brief-box-central = central { $share } %
key-box-median = The line in the box is the median: half of the values lie on either side. It is not the mean.
key-box = The box holds the central { $share } % of values: { $quartiles ->
    [yes] from the lower to the upper quartile; {""}
   *[no] {""}
}their spread, and no confidence interval.
key-box-extremes = The lines reach the smallest and the largest value.
key-box-whisker = A line ends at the furthest value within { $fence }: its end is a value, no percentile, and not the fence.
key-box-outlier = A diamond is a single value beyond the fences. That alone does not make it wrong.
key-limit = An arrow is a value known only to lie beyond that limit; it stands in no number.
key-left-out = A faint cross is a value that was left out of every number, for a reason that the method note names.

## Method note: densities

note-density = Curves: kernel density ({ $kernel }, { $width }{ $times }), { $ends }, { $size }{ $compared }.
note-density-value = bandwidth { $value }
note-density-rule = bandwidth by { $rule }
note-density-ends = { $ends ->
    [stop] stopped at the data
    [run-past] running past the data
   *[fold] folded at { $limits }
}
note-density-no-limit = no limit
note-density-both-limits = { $low } and { $high }
note-density-size = { $size ->
    [equal-area] equal areas
    [equal-width] equal widths
   *[by-n] areas by n
}
note-density-compared = { $compared ->
    [figure] {""}
    [panel] {" "}within each panel
   *[group] {" "}within each group
}
brief-density = curves: kernel density ({ $kernel })
key-density = The curve shows how closely values lie: its width is a share of the lane's values, { $by-n ->
    [yes] areas follow n
   *[no] not a number of points
}.

## Method note: points

note-points = Points: { $spread ->
    [line] every value, on one line
    [jitter] every value, moved across its lane only (uniform jitter, seed { $seed })
    [shaped] every value, moved across its lane by jitter times the local density (seed { $seed })
    [swarm] every value, moved across its lane just as far as no two overlap{ $crowded }
    [stack] every value, piled up where values are close
   *[in-order] every value, in the order of { $order }
}{ $joined }{ $coloured }{ $shaped }{ $outliers }.
note-points-crowded = {" "}(by jitter times the local density, seed { $seed }, in { $lanes })
note-points-rows = the rows
note-points-joined = ; lines join points of one { $column }
note-points-coloured = ; colours: { $column }
note-points-shaped = ; shapes: { $column }
note-points-outliers = ; { $marks } lie more than { $k } × the interquartile range beyond the quartiles (type { $type })
brief-points = points: every value
key-point = { $spread ->
    [in-order] Each point is one value, placed in the order of { $order }.
    [line] Each point is one value; equal values hide one another.
   *[other] Each point is one value. Its place across the lane means nothing: it only keeps points apart.
}
key-point-outlier = { $shaped ->
    [no] A diamond
   *[yes] An open mark
} is a single value beyond the fences. That alone does not make it wrong.

## Method note: bins

note-bins = Bins: { $how }, { $closed }, { $common ->
    [yes] common to all lanes
   *[no] for each lane
}; heights: { $cumulative ->
    [yes] cumulative {""}
   *[no] {""}
}{ $height ->
    [count] counts
    [share] shares of { $of ->
        [lane] the lane
        [panel] the panel
       *[all] all rows
    }
   *[density] densities
}.
note-bins-given = { $count } given bins{ $open ->
    [below] , open below
    [above] , open above
    [both] , open below and above
   *[none] {""}
}
note-bins-width = { $width } wide from { $anchor }
note-bins-count = { $count } bins
note-bins-rule = number by { $rule }
note-bins-wide = { $how }, { $widths } wide
note-bins-closed = { $closed ->
    [left] [a, b), the last closed
   *[right] (a, b], the first closed
}
note-bins-lifted = { $closed }, { $edges } in the bin below
note-bins-and = { $first } and { $last }
brief-bins = bins: { $height ->
    [count] counts
    [share] shares
   *[density] densities
}
key-bins = A column says { $height ->
    [count] how many values lie
    [share] which share of the values lies
   *[density] how closely values lie
} { $cumulative ->
    [yes] up to and in
   *[no] in
} its interval; other intervals would give other columns.

## Method note: means

note-mean = { $mark ->
    [dot] Dots
    [bar] Bars
   *[tick] Ticks
}: { $centre }s{ $lines }.
note-mean-lines = ; lines: { $interval }{ $how ->
    [t] {" "}(t)
    [order] {" "}(order statistics)
   *[none] {""}
}{ $resamples }
note-mean-resamples = , { $resamples } resamples, seed { $seed }
brief-mean = { $mark ->
    [dot] dots
    [bar] bars
   *[tick] ticks
}: { $centre }s{ $with }
brief-mean-with = {" "}with { $interval }
key-mean = The { $mark ->
    [dot] dot
    [bar] end of the bar
   *[tick] tick
} is the { $centre }{ $centre ->
    [mean] , not the median.
   *[median] , not the mean.
}
key-mean-sd = The line is one standard deviation to each side: the spread of values, not how sure the mean is.
key-mean-interval = The line is the { $interval }: how sure the { $centre } is, not where values lie.

## Method note: ticks, lines and normal curves

note-ticks = Ticks: every value.
note-ticks-quantiles = Ticks: quantiles { $quantiles } (type 7).
brief-ticks = ticks: { $quantiles ->
    [no] every value
   *[yes] quantiles
}
key-ticks = { $quantiles ->
    [no] Each tick is one value.
   *[yes] Each tick is a quantile of the values.
}
note-line = Bars across the lanes: { $at }s.
note-line-sds = Lines: mean, and { $sds } SD.
brief-line = { $sds ->
    [no] bars across: { $at }s
   *[yes] lines: mean and SDs
}
key-line = The bar across the lane is the { $centre }{ $sds ->
    [yes] , and steps of the standard deviation from it
   *[no] {""}
}.
note-normal-curve = Normal curves: each lane's mean and SD.
brief-normal-curve = normal curves
key-normal-curve = The { $dash } curve is what a normal distribution with the same mean and SD would look like.

## Method note: cumulative shares

note-cumulative = Steps: share of rows at or below each value.
note-cumulative-normal = Points: values against a normal distribution (plotting positions of { $positions }){ $line ->
    [yes] ; line through the quartiles
   *[no] {""}
}.
brief-cumulative = { $against ->
    [shares] steps: share of rows at or below
   *[normal] points against a normal distribution
}
key-cumulative = The height of the steps is the share of values at or below: at half its height stands the median.
key-cumulative-normal = Points near the line would come from a normal distribution; bends at the ends are heavy or light tails.

## Method note: stems and counts

note-stem = Stem and leaf (Tukey): values are cut to a leaf, not rounded.{ $aside ->
    [yes] {" "}Values beyond the fences (k = 1.5) stand apart, in full.
   *[no] {""}
}
brief-stem = stem and leaf
key-stem = The stem gives leading digits, each leaf the next one of a value, or of several where the figure says so.
note-counts = Bars: { $of ->
    [rows] rows with a value.
    [subjects] distinct subjects.
   *[both] rows with a value; the light bar inside: distinct subjects, where an identifier repeats.
}
brief-counts = bars: number of { $of ->
    [subjects] subjects
   *[rows] rows
}
key-counts = The bar is a number of { $of ->
    [subjects] subjects.
   *[rows] rows, and says nothing of their values.
}
key-counts-subjects = The light bar in it is the number of different subjects: some have several rows.

## Method note: from lane to lane

note-trend = Line from lane to lane: { $through }.
note-trend-least-squares = Line: least squares over all rows against the group's number; band: { $level } % confidence interval.
brief-trend = line from lane to lane: { $through }
key-trend = The line from lane to lane goes through { $through }; between lanes it stands for no value.
note-difference = Black dots: { $differences } to { $whom }, whose centre is the dashed line; lines: { $level } % intervals ({ $how }){ $curve ->
    [yes] ; curves: the density of the estimate
   *[no] {""}
}.
note-difference-reference = the reference lane
brief-difference = black dots: { $differences } with { $level } % intervals
key-difference = A black dot is the { $of ->
    [means] difference of means
    [medians] difference of medians
   *[shift] shift
} to the reference lane, its line the { $level } % interval: where it stays clear of the dashed line, the data speak against no difference.
note-bracket = Brackets: { $what }{ $intervals }{ $test }.
note-bracket-within = { $means ->
    [yes] mean
   *[no] median
} differences within { $subject } (repeats reduced to their { $repeats })
note-bracket-intervals = ; { $level } % intervals ({ $how })
note-bracket-how = { $means ->
    [yes] t
   *[no] order statistics
}
note-bracket-test = ; p of { $test ->
    [paired-t] paired t
    [wilcoxon] Wilcoxon signed rank
    [welch-t] Welch t
   *[mann-whitney] Mann–Whitney
}{ $adjusted ->
    [none] {""}
   *[other] , adjusted by { $adjusted }
}
brief-bracket = brackets: { $differences }
key-bracket = A bracket names the difference of the two lanes that its ends stand over.

## Method note: control lines

control-target = target { $mean }, SD { $sd }
control-stretch = mean and SD of { $each } values { $first } to { $last }
control-own = mean and SD of all { $each } own values
control-each = { $lots ->
    [yes] each lot's
   *[no] each lane's
}
note-control = Lines: { $target }; dashed at { $sds } SD. Rings: values that break a control rule { $order }{ $lots } ({ $warnings ->
    [yes] 1-2s (a warning), {""}
   *[no] {""}
}1-3s, 2-2s, R-4s, 4-1s, 10-x).
note-control-by = by { $column }
note-control-rows = in row order
note-control-lots = , anew for each { $column }
brief-control = lines: mean and { $sds } SD; rings: control rules broken
key-control-line = The solid line is the target mean, dashed lines stand at steps of its SD.
key-control-ring = A ring marks values that break a control rule: a reason to look, and no proof of a fault.

## Method note: the whole figure

note-stand-in = { $lanes }: { $what }.
note-short = { $layers }; n = { $n }{ $aside }.
note-short-aside = ; { $count } set aside
note-within = Values{ $whose }; several rows of one subject reduced to their { $repeats } first.
note-bent = Shapes are computed on the axis' scale ({ $scale }).
note-n-all = n = { $n } in { $lanes }.
note-n-lanes = n: { $lanes }.
note-kept = Rows kept: { $conditions }.
note-missing = { $within ->
    [yes] Without a partner
   *[no] Without a value
}: { $by }.
note-censored = { $values } beyond a detection limit, not in n{ $drawn }.
note-drawn = { $mark ->
    [arrow] { $count ->
        [one] , drawn as an arrow
       *[other] , drawn as arrows
    }
   *[cross] { $count ->
        [one] , drawn as a faint cross
       *[other] , drawn as faint crosses
    }
}
note-stand-ins = { $values } beyond a detection limit { $count ->
    [one] stands
   *[other] stand
} at { $at }, in n.
note-stand-ins-computed = { $values } computed from others that stand for a detection limit.
note-out-of-view = { $values } out of view, in n.
note-left-out = { $rows } left out ({ $reasons }){ $drawn }.
note-left-out-row = row { $row }: { $reason }
note-dropped = { $rows } of levels that are not shown.
note-ungrouped = { $rows } without a group.
note-guide = { $band ->
    [no] Line
   *[yes] Band
}{ $label }: { $places } of { $whose }{ $definition }{ $at }.
note-guide-label = {" "}“{ $label }”
note-guide-definition = {" "}(definition { $type })
note-guide-at = , { $ends }
note-guide-own = each lane’s values
note-guide-group = { $group }’s values
note-guide-all = all values

## What is said of numbers

remark-needs-two-and-spread-everywhere = needs two values and spread in every lane
remark-no-two-different = no two different values
remark-normal-approximation = normal approximation with continuity and tie correction
remark-needs-value-in-each = needs a value in each lane
remark-needs-spread-and-two-in-each = needs spread and two values in each lane
remark-needs-spread-everywhere = needs spread in every lane
remark-needs-two-differences = needs two differences that differ
remark-only-zero-differences = no difference other than zero
remark-needs-margin = needs a difference of means and a margin above 0
remark-needs-two-pairs = needs two pairs
remark-no-pairs = no pairs
remark-too-few-pairs = too few pairs for this level
remark-needs-two-pairs-that-differ = needs two pairs that differ
remark-holds-less-often = holds less often than it says for fewer than 30 values
remark-holds-ninety = of up to 100 values this interval holds about 90 % where it says 95
remark-no-spread-in-a-lane = no spread in a lane
remark-no-spread-in-reference = no spread in the reference
remark-resamples-without-spread = no interval: too many resamples have no spread
remark-resamples-on-one-side = no interval: all resamples lie on one side
remark-needs-two-in-each = needs two values in each lane
remark-reference-mean-zero = the reference's mean is zero
remark-no-spread-in-either = no spread in either lane
remark-reference-mean-near-zero = no interval: the reference's mean cannot be told from zero
remark-needs-values-above-zero = needs values above zero
remark-interval-beyond-numbers = no interval: it reaches beyond all numbers
remark-assumes-equal-spread = assumes equal spread in both lanes
remark-between-runs-none = between runs: below zero, counted as none
remark-needs-three-subjects = needs three subjects, and several rows of one
remark-no-spread = no spread
remark-model-without-end = the model found no end
remark-no-variance-between-subjects = no variance between subjects was found
remark-too-few-for-level = too few values for this level
remark-no-overlap = the lanes do not overlap
remark-needs-two-in-each-cell = needs two values in each cell
remark-no-density = no density: fewer than two different values
remark-zeros-left-out = { $count } differences of zero left out
remark-not-dealt = not dealt anew above { $most } values; Welch's t says the same of so many
remark-permutations = { $statistic }, { $resamples } permutations, seed { $seed }
remark-margin = two one-sided tests, margin ± { $margin }
remark-needs-values-in-each = needs { $least } values in each lane
remark-limits-uncertain = fewer than { $fewest } values: limits are uncertain
remark-too-many-rows = more than { $most } rows: reduce them to one a subject
remark-not-computed = not computed above { $most } values a lane; the difference of medians says as much
remark-p-unreliable = p-values are not reliable above n = { $most }
remark-bins-too-few = { $rule } has no answer for fewer than three values; { $stand-in } stands in
remark-bins-no-spread = { $rule } has no answer where the interquartile range is 0; { $stand-in } stands in
remark-bins-too-many = { $rule } asks for more than { $most } bins; { $stand-in } stands in
remark-bandwidth-no-answer = { $rule } has no answer here; { $stand-in } stands in
remark-bandwidth-binned = { $rule } from values binned on { $grid } points
remark-bin-width-not-positive = a bin's width is above zero
remark-bin-width-too-many = that width would give more than { $most } bins
remark-needs-three-different = needs three values that are not all equal
remark-needs-eight-different = needs eight values that are not all equal
remark-no-spread-in-any-cell = no spread in any cell
