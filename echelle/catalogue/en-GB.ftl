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
    [bootstrap-BCa] the BCa interval
    [bootstrap-percentile] the percentile interval
    [confidence] the confidence interval of the median (order statistics)
    [gaussian] Gaussian
    [epanechnikov] Epanechnikov
    [uniform] uniform
    [biweight] biweight
    [triangular] triangular
    [raised-cosine] raised cosine
   *[other] { $rule }
}
centre = { $centre ->
    [median] median
   *[mean] mean
}
centres = { $centre ->
    [median] medians
   *[mean] means
}
repeats = { $repeats ->
    [median] median
   *[mean] mean
}
scale = { $scale ->
    [log10] log10
    [ln] ln
    [square-root] square-root
    [log1p] log1p
   *[other] { $scale }
}
dash = { $dash ->
    [dashed] dashed
    [dotted] dotted
   *[solid] solid
}
positions = { $positions ->
    [blom] Blom
    [hazen] Hazen
   *[Weibull] Weibull
}
adjusted = { $adjusted ->
    [Holm] Holm
    [Bonferroni] Bonferroni
   *[other] { $adjusted }
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
    [quartiles] { $k } × the interquartile range from the quartiles
    [percentiles] the { $low } and { $high } percentile
    [full-range] the full range
    [none] no limit
    [mean-and-SD] mean ± { $k } × SD
    [median-and-MAD] median ± { $k } × 1.4826 × MAD
    [skew-adjusted] { $k } × the interquartile range from the quartiles, adjusted for skew (medcouple)
   *[extreme-deviates] generalised extreme Studentised deviates (at most { $k })
}{ $of ->
    [logarithms] {" "}of the logarithms
   *[values] {""}
}
ordinal = { $form ->
    [one] { $text }st
    [two] { $text }nd
    [few] { $text }rd
   *[other] { $text }th
}
interval = { $kind ->
    [SD] ±1 SD
    [SE] ±1 SE
    [confidence] { $level } % confidence interval of the { centre }
    [bootstrap-percentile] { $level } % bootstrap interval of the { centre } (percentile)
    [bootstrap-BCa] { $level } % bootstrap interval of the { centre } (BCa)
    [given] interval that the table gives
   *[none] {""}
}
outlier-marks = { $shaped ->
    [no-points] diamonds
    [no] open diamonds
   *[yes] open marks
}

## Method note: boxes

note-box = Boxes: median and { $middle } (type { $type }){ $lines }{ $outliers }.
note-box-lines = ; lines reach { $lines }
note-fences-of-values = Fences are computed on the values as they are, not on their { scale } scale.
note-box-quartiles = quartiles
note-box-central = the central { $share } % of values
note-box-extremes = the extremes
note-box-within = the furthest value within { $fence }
note-box-outliers = ; { $marks } lie beyond{ $fence }
brief-box = boxes: median and { $middle }{ $lines }
brief-box-lines = , lines to { $lines }
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
note-density-few = No curve of fewer than { $few } values beside fuller lanes: { $lanes }.
note-density-middle = In full strength the middle half of the values (between the quartiles, type { $type }); bar: median.
brief-density = curves: kernel density ({ $kernel })
key-density-median = The bar is the median: half of the values lie on either side; in full strength the middle half.
key-density = The curve shows how closely values lie: its width is a share of the lane's values, { $by-n ->
    [yes] areas follow n
   *[no] not a number of points
}.

## Method note: points

note-points = Points: { $spread ->
    [line] { $values }, on one line
    [jitter] { $values }, moved across its lane only (uniform jitter, seed { $seed })
    [shaped] { $values }, moved across its lane by jitter times the local density (seed { $seed })
    [swarm] { $values }, moved across its lane just as far as no two overlap{ $crowded }
    [stack] { $values }, piled up where values are close
   *[in-order] { $values }, in the order of { $order }
}{ $joined }{ $coloured }{ $shaped }{ $outliers }.
note-points-crowded = {" "}(by jitter times the local density, seed { $seed }, in { $lanes })
note-points-rows = the rows
note-points-joined = ; lines join points of one { $column }
note-points-coloured = ; colours: { $column }
note-points-shaped = ; shapes: { $column }
note-points-outliers = ; { $marks } lie more than { $k } × the interquartile range beyond the quartiles (type { $type })
brief-points = points: { $values }
points-values = { $whole ->
    [yes] every value
   *[no] some of the values
}
key-point = { $spread ->
    [in-order] Each point is one value, placed in the order of { $order }.
    [line] Each point is one value; equal values hide one another.
   *[other] Each point is one value. Its place across the lane means nothing: it only keeps points apart.
}
column-says = { $open ->
    [below] below { $high }
    [above] { $low } and above
   *[no] { $low } to { $high }
} · { count-values } · { $percent } %
line-label = { $line ->
    [mean] mean
   *[SD] { $steps } SD
}
key-no-level = no { $column }
key-point-outlier = { $shaped ->
    [no] A diamond
   *[yes] An open mark
} is a single value beyond the fences. That alone does not make it wrong.

## Method note: series

note-series = Line over the order of { $order }: { $through ->
    [values] through every value
    [means] through the mean at each place
    [medians] through the median at each place
    [least-squares] straight, by least squares on the values as they are
   *[running-total] the sum of all values up to each place
}{ $step ->
    [none] {""}
   *[other] , gathered in steps of { $step }{ $days ->
        [yes] {" "}days
       *[no] {""}
    }
}{ $subjects ->
    [none] {""}
   *[other] , one line for each { $subjects }
}{ $band ->
    [none] {""}
    [spread] { $through ->
        [means] ; band: ± 1 SD
        [medians] ; band: from quartile to quartile (type 7)
       *[least-squares] ; band: { $level } % prediction interval of single values
    }
   *[interval] { $through ->
        [means] ; band: { $level } % confidence interval of the mean (t)
        [medians] ; band: confidence interval of the median by order statistics, { $level } % or a little more
       *[least-squares] ; band: { $level } % confidence interval of the line
    }
}{ $bare ->
    [0] {""}
    [one] , none at one place with too few values
   *[other] , none at { $bare } places with too few values
}{ $area ->
    [no] {""}
    [zero] ; the area reaches down to zero
   *[end] ; the area reaches down to the axis' low end, which is not zero
}.
brief-series = line over { $order }: { $through ->
    [values] every value
    [means] means
    [medians] medians
    [least-squares] least squares
   *[running-total] running total
}
key-series = { $through ->
    [values] The line joins the values in the order of { $order }; between them it stands for no value.
    [means] The line joins the means at each place of { $order }; between them it stands for no value.
    [medians] The line joins the medians at each place of { $order }; between them it stands for no value.
    [least-squares] The straight line is the one nearest to all values over { $order }, by the squares of their distances.
   *[running-total] The line is the sum of all values up to each place of { $order }.
}
key-series-band = { $band ->
    [spread] { $through ->
        [means] The band reaches one SD to either side of the mean: about two thirds of single values, where they are bell-shaped.
        [medians] The band holds the middle half of the values at each place.
       *[least-squares] The band is where { $level } % of single new values would lie.
    }
   *[interval] The band says how sure the line is ({ $level } %), not where single values lie.
}
advice-no-straight-line = No straight line in { $lanes }: it needs three values at two places at least.
    .why = The line is fitted to values that have a place in the order; those without are left out of it.
advice-no-band = No band at { $bare } of { $places } places: they hold too few values for one.
    .why = An SD or an interval of a mean needs two values at a place, the interval of a median six.
advice-two-orders = The line follows { $one }, others on the figure follow { $two }; the axis is that of one of them.
    .why = Marks over one another are read against one axis, and these stand in different orders.

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
note-bins-whole = { $how }, rounded to bins about whole numbers
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
}: { centres }{ $lines }.
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
}: { centres }{ $with }
brief-mean-with = {" "}with { $interval }
key-mean = The { $mark ->
    [dot] dot
    [bar] end of the bar
   *[tick] tick
} is the { centre }{ $centre ->
    [mean] , not the median.
   *[median] , not the mean.
}
key-mean-sd = The line is one standard deviation to each side: the spread of values, not how sure the mean is.
key-mean-interval = The line is the { $interval }: how sure the { centre } is, not where values lie.

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
note-line = Bars across the lanes: { centres }.
note-line-sds = Lines: mean, and { $sds } SD.
brief-line = { $sds ->
    [no] bars across: { centres }
   *[yes] lines: mean and SDs
}
key-line = The bar across the lane is the { centre }{ $sds ->
    [yes] , and steps of the standard deviation from it
   *[no] {""}
}.
note-normal-curve = Normal curves: each lane's mean and SD.
brief-normal-curve = normal curves
key-normal-curve = The { dash } curve is what a normal distribution with the same mean and SD would look like.

## Method note: cumulative shares

note-cumulative = Steps: share of rows at or below each value.
note-cumulative-normal = Points: values against a normal distribution (plotting positions of { positions }){ $line ->
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
    [rows] rows with a value
    [subjects] distinct subjects
   *[both] rows with a value; the light bar inside: distinct subjects, where an identifier repeats
}{ $percent ->
    [no] {""}
    [all] , in per cent of all
   *[group] , in per cent of each group
}.
note-counts-value = Bars: { $percent ->
    [no] the number of rows whose value is { $value }
   *[yes] the share of rows whose value is { $value }, of all rows of a lane whose value is known
}{ $interval ->
    [no] {""}
   *[yes] ; lines: 95 % confidence interval of the share (Wilson's score interval)
}.
brief-counts-value = bars: rows whose value is { $value }
key-counts-value = The bar is how many of the lane's rows have the value { $value }.
axis-value = { $percent ->
    [no] number of rows with { $value }
   *[yes] % of rows with { $value }
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

through = { $through ->
    [medians] medians
    [means] means
   *[other] least squares
}
note-trend = Line from lane to lane: { through }.
note-trend-least-squares = Line: least squares over all rows against the group's number; band: { $level } % confidence interval.
brief-trend = line from lane to lane: { through }
key-trend = The line from lane to lane goes through { through }; between lanes it stands for no value.
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
difference-within = { $of ->
    [means] mean
   *[other] median
} differences within { $subject }{ $repeats ->
    [none] {""}
   *[other] {" "}(repeats reduced to their { repeats })
}
difference-mixed = differences of means by a mixed model, { $subject } a random effect
level-together = { $each } (together { $level })
p-adjusted = { $p }{ $adjusted ->
    [none] {""}
    [Holm] {" "}(Holm)
    [Bonferroni] {" "}(Bonferroni)
   *[other] {" "}({ $adjusted })
}
note-bracket-intervals = ; { $level } % intervals ({ $how })
within-interval = { $of ->
    [means] t
   *[other] order statistics
}
pair-test = { $test ->
    [paired-t] paired t
    [mixed] the mixed model
    [wilcoxon] Wilcoxon signed rank
    [welch-t] Welch t
   *[mann-whitney] Mann–Whitney
}
note-bracket-test = ; p of { $tests }{ $adjusted ->
    [none] {""}
   *[other] , adjusted for { $pairs } pairs by { adjusted }
}
brief-bracket = brackets: { $differences }
key-bracket = A bracket names the difference of the two lanes that its ends stand over.

## Method note: control lines

control-target = target { $mean }, SD { $sd }
control-stretch = mean and SD of { $each } values { $first } to { $last }
control-own = mean and SD of { $each } own values
control-each = { $lots ->
    [yes] each lot's
   *[no] each lane's
}
note-control = Lines: { $target }; dashed at { $sds } SD.
note-control-rings = Rings: values that break a control rule { $order }{ $lots } ({ $warnings ->
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
note-within = Values: differences{ $reference ->
    [none] {""}
   *[other] {" "}to { $reference }
} within { $by }{ $repeats ->
    [none] {""}
   *[other] ; several rows of one subject reduced to their { repeats } first
}.
note-bent = Shapes are computed on the axis' scale ({ scale }).
note-counted = Counted file by file, each different value with how often it occurs: { $rows } in { $whole ->
    [yes] { $of ->
        [one] one file
       *[other] { $of } files
    }
   *[no] { $done } of { $of } files so far
}.
note-cells = A lane has more than 100 000 different values: these gather into cells at most { $cell } wide, a 131 072th of their range. { $known ->
    [all] Counts, means, SDs, quantiles and the fences made of these are of the values themselves, curves and all else of the cells’ middles.
    [ranks] Counts, quantiles and the fences made of these are of the values themselves, means, SDs, curves and all else of the cells’ middles.
   *[none] Numbers are of the cells’ middles; the least and the greatest value stand for themselves.
}
note-examples = Of { $count } values { $drawn } are drawn as what they are, in each lane those whose rows have the smallest hashes; beyond the fences a mark stands for a different value, however often it occurs.
note-n-all = n = { $n } in { $lanes }.
note-n-lanes = n: { $lanes }.
note-prepared = { $rows } read; before the figure: { $steps }.
note-step-leaves-out = { $step } ({ $count } left out)
note-step-makes = { $step } ({ $rows } then)
note-kept = Rows kept: { $conditions } ({ $count } not kept).
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
remark-interval-too-many = { $rule } is not computed above { $most } values, { $stand-in } is drawn
remark-interval-no-answer = { $rule } has no answer here, { $stand-in } is drawn
remark-interval-of-the-mean = { $rule } belongs to a mean, { $stand-in } is drawn about the median
remark-fence-no-logarithms = values at or below zero have no logarithm, fences are those of the values
remark-no-density = no density: fewer than two different values
remark-zeros-left-out = { $count } differences of zero left out
remark-permutations = difference of means, { $resamples } permutations, seed { $seed }
remark-permutations-all = difference of means, all { $count } permutations
remark-permutations-normal = difference of means, normal approximation of its permutations
remark-needs-spread-within = needs spread inside the lanes
remark-margin = two one-sided tests, margin ± { $margin }
remark-needs-values-in-each = needs { $least } values in each lane
remark-limits-too-few = no limits: { $fewest } values are needed without a distribution, { $n } are here; robust or log-normal limits need fewer
remark-limits-need-values = no limits: { $fewest } values are needed, { $n } are here
remark-limits-no-spread = no limits: all values are equal
remark-limits-need-above-zero = no limits: all values must be above zero
remark-limits-open = the transformed values set no limit where none stands
remark-limits-uncertain = fewer than { $fewest } values: limits are uncertain
remark-too-many-rows = more than { $most } rows: reduce them to one a subject
remark-not-computed = not computed above { $most } values a lane; the difference of medians says as much
remark-bandwidth-below-step = { $rule } asks for less than the step of { $step } in which values were recorded; that step stands in
remark-test-not-computed = not computed above { $most } values
remark-p-unreliable = p-values are not reliable above n = { $most }
remark-bins-too-few = { $rule } has no answer for fewer than three values; { $stand-in } stands in
remark-bins-of-steps = { $rule } asks for bins so narrow that each is made { $count ->
    [one] one step
   *[other] { $count } steps
} of { $step }, in which values were recorded, wide
remark-bins-no-spread = { $rule } has no answer where the interquartile range is 0; { $stand-in } stands in
remark-bins-too-many = { $rule } asks for more than { $most } bins; { $stand-in } stands in
remark-bandwidth-no-answer = { $rule } has no answer here; { $stand-in } stands in
remark-bin-width-not-positive = a bin's width is above zero
remark-bin-width-too-many = that width would give more than { $most } bins
remark-needs-three-different = needs three values that are not all equal
remark-needs-eight-different = needs eight values that are not all equal
remark-no-spread-in-any-cell = no spread in any cell

## Advice: what a figure may hide, why, after whom, and what can be done

advice-no-rows = No row has a value here.
    .why = Keep more rows, or choose another measure.
advice-few-values = { $lanes }: a { $what ->
    [box] box
   *[curve] curve
} from fewer than { $fewest } values.
    .why = { $what ->
    [box] Quartiles
   *[curve] Curves
} of so few values say little; points say more.
advice-repeated-subjects = { $rows } rows come from { $subjects } { $many }.
    .why = Rows of one { $one } resemble one another; n counts rows.
advice-repeated-subjects-interval = { $rows } rows come from { $subjects } { $many }. The interval treats them as independent.
    .why = Rows of one { $one } resemble one another, so the interval is too narrow.
advice-unequal-n = Curves of one size stand for { $least } to { $most } values.
    .why = A curve from few values looks as sure as one from many.
advice-units = Measures in different units: { $units }; each has an axis of its own.
    .why = Their numbers cannot be compared; choose measures in one unit.
advice-limits-inside = { $lanes }: more than a quarter of the values are beyond a detection limit.
    .why = Quartiles of the others alone lie too far inside.
    .source = Helsel 2012
advice-out-of-view = { count-values } out of view; every number still counts them.
    .why = The axis was told where to begin or end.
advice-lines-cut = Lines end at the edge of the axis before their own end: { $lanes }.
    .why = { $scale ->
    [linear] The axis was told where to begin or end.
   *[other] They reach below zero, where a { scale } axis has no place.
}
advice-bars-off-zero = Bars do not begin at zero.
    .why = The length of a bar is read as its { $of ->
    [count] count
   *[value] value
}.
advice-columns-off-zero = Columns do not begin at zero.
    .why = The height of a column is read as its count.
advice-magnified = The cut axis shows { $true } times as { $seen } times.
    .why = Distances from the edge are taken for sizes.
advice-past-limit = A curve runs below zero, where no value is.
    .why = If values cannot be negative, fold the curve back.
    .source = Silverman 1986
advice-skewed-fences = { $lanes }: many values beyond the fence, in the direction of the skew.
    .why = In a skewed lane the long tail is no outlier.
    .source = Hubert & Vandervieren 2008
advice-skewed-means = { $lanes }: strongly skewed, so a few values pull the mean.
    .why = The median stays where the middle row is.
advice-long-tail = { $lanes }: long tail { $way ->
    [up] upward
   *[down] downward
}.
    .why = The mean lies { $way ->
    [up] above
   *[down] below
} the median.
advice-unequal-counts = Counts are compared across lanes of { $least } to { $most } values.
    .why = A higher column may only mean a larger lane.
advice-unequal-widths = The bins have unequal widths.
    .why = A wide bin collects more; only a density makes areas comparable.
advice-off-step = The bins are { $width } wide, no multiple of the recording step { $step }.
    .why = Columns rise and fall by chance; a width of { $better } fits.
advice-stacked = { $parts } subgroups are stacked.
    .why = Only the lowest stands on a straight line; the others cannot be compared.
advice-covered-points = Boxes cover points.
    .why = A value that nobody sees was not shown.
advice-points-on-points = Up to { $most } points share one line and hide one another.
    .why = Where many lie no longer shows.
advice-drawn-twice = Outliers are drawn twice.
    .why = Two layers of points draw the same rows.
advice-too-many-overlaid = { $lanes } lanes lie over one another.
    .why = Few eyes follow more than six.
advice-too-many-beside = { $lanes } lanes stand side by side.
    .why = Names and marks grow thin; across there is more room.
advice-shared-colours = { $lanes } lanes share { $colours ->
    [one] 1 colour
   *[other] { $colours } colours
}.
    .why = Lay fewer lanes over one another, or give them panels.
advice-one-grey = Some of these colours are one grey in print.
    .why = Their lightness is nearly the same.
advice-peaks = { $lane } has { $count ->
    [2] two
    [3] three
    [4] four
    [5] five
   *[other] many
} peaks, near { $places }.
    .source = dip test, Hartigan & Hartigan 1985
peaks-hidden = A box alone hides them.
peaks-cause = “{ $column }”{ $edge ->
    [none] {""}
   *[other] {" "}(below and from { $edge })
} tells them apart best: it explains { $share } % of the variance.
advice-hidden-peaks = { $lanes }: the bins hide peaks that are there.
    .why = Fewer columns than the shape has turns.
advice-chance-peaks = { $lanes }: the bins show peaks that are chance.
    .why = The values agree with one peak; narrow bins follow chance.
advice-turned = Lanes were turned across.
    .why = Side by side their names would collide.
advice-shortened = { $names ->
    [one] 1 name
   *[other] { $names } names
} shortened to fit.
    .why = Rename the level, or make the sheet larger.
advice-unwritable = No font here can write { $letters }.
    .why = An empty box stands in its place.
advice-thinned = About { $most } of { $used } { $what ->
    [outliers] outliers
   *[points] points
} are shown on screen.
    .why = Every number and every export uses all of them.
advice-unfilled = Nothing fills { $places }.
    .why = Of all rows: { $of_all }. Of one lane, by its name: { $of_lanes }, such as { $example }.
advice-guides-unnamed = No room to name { $count ->
    [one] 1 guide
   *[other] { $count } guides
}: { $guides }.
    .why = Make the figure higher, shorten their labels, or use fewer.
advice-guides-out-of-view = Guides out of view: { $guides }.
    .why = { $scale ->
    [linear] Let the axis reach further, or take the guide away.
   *[other] A { scale } axis has no place for them.
}

## Advice of layers

advice-bin-rule = { $lanes }: { $remark }.
advice-beyond-bins = The bins leave { $below } values below and { $above } above out.
    .why = Open the first or last bin, or add edges.
advice-bars-from-zero = Bars from zero hide how values spread.
    .why = A bar's length shows only the mean; values, boxes or densities show the spread.
advice-stem-scale = No stems on a bent axis.
    .why = Stems stand at even steps.
advice-stem-unit = A leaf is one step of { $unit }.
    .why = Values are cut, not rounded.
advice-bare-stems = { $lanes }: no room for digits; bars as long as the leaves stand in their place.
    .why = Fewer lanes or a wider sheet give digits room.
advice-shared-leaves = Not every leaf fits: one stands for up to { $most } values.
    .why = A wider sheet has room for every leaf.
advice-many-brackets = { $pairs } pairs are too many for brackets: the first { $most } are drawn.
    .why = Compare with a reference, or read the tab Differences.
advice-no-bracket = { $pairs }: no difference to draw.
    .why = { $paired ->
    [yes] No subject stands in both lanes.
   *[no] Too few values.
}
advice-read-as-codes = { $column } was read as { $kind ->
    [category] a category
    [identifier] an identifier
   *[other] { $kind }
}; here its cells are numbers.
    .why = A measure that is asked for by name comes before the guess. Set its kind in the table to settle it.
remedy-kind-measure = It is a measure
advice-no-trend = No least-squares line: it needs two lanes whose names are different numbers, and three values.
    .why = The line goes through values against the group's number. A line through medians or means needs no numbers.
bracket-pair = { $lane } to { $reference }
advice-bare-brackets = { $count ->
    [one] 1 bracket has
   *[other] { $count } brackets have
} no room for words.
    .why = They would stand over others. A larger sheet, shorter words or fewer pairs give room; the tab Differences has all.
advice-beyond-lines = Values beyond { $lines } SD: { $lanes }{ $more ->
    [0] {""}
   *[other] ; { $more } more lanes
}.
advice-no-curve = { $lanes }: { $remark }.
    .why = A curve needs two different values at least.
advice-few-for-curve = Points instead of a curve of fewer than { $few } values: { $lanes }.
    .why = A curve of so few values is a spike, and flattens all others.
advice-covered-curve = Part of a curve is covered: { $lanes }.
    .why = Let lanes overlap less, or make the fill weaker.
advice-no-reference = No lane “{ $reference }” with values.
    .why = Choose another reference.
advice-no-interval = { $lanes }: no interval of the difference.
    .why = { $reason }.
order-of-rows = the rows' order
advice-control-order = Control lines count along { $along }, where no points stand.
    .why = Spread the points in order, by the same column.
advice-no-target = { $lanes }: lots without a target.
    .why = A target needs two values that differ in each lot, or a mean and an SD given by hand.
advice-large-swarm = { $lanes }: more than { $most } points; they are shaped instead of placed one by one.
    .why = A swarm of so many points finds no room.
advice-crowded-swarm = { $points } points found no free place: { $lanes }.
    .why = Give the points more of the lane, make them smaller, or let them be shaped.

## Remedies

remedy-all-values = Show all values
remedy-linear-axis = Linear axis
remedy-keep-above-zero = Keep { $zero ->
    [yes] values from zero on
   *[no] values above zero
} (without { $count })
remedy-linear-axis-from-zero = Linear axis from zero
remedy-from-zero = Begin at zero
remedy-logarithmic-axis = Logarithmic axis
remedy-dots = Draw dots
remedy-fold = Fold at 0
remedy-stop = Stop at the data
remedy-points = Show the points
remedy-one-value = One mean value per { $one }, in the table
remedy-size-by-n = Size by n
remedy-resamples = { $count } resamples
remedy-bins = Bins { $width } wide
remedy-without-layer = Without the layer { $layer }
remedy-confidence = A confidence interval without resamples
remedy-beside = Place them beside one another
remedy-gather = In steps of { $length }{ $days ->
    [yes] {" "}days
   *[no] {""}
}
remedy-in-order = Count them in order
remedy-skew-fences = Adjust the fences for skew
remedy-medians = Show medians
remedy-shares = Shares of each lane
remedy-density-height = Density
remedy-bin-width = Width { $width }
remedy-outlines = Outlines, laid over
remedy-points-below = Move the points below the line
remedy-points-last = Draw the points last
remedy-spread = Spread them across the lane
remedy-hide-layer = Hide one of them
remedy-ridges = Ridges
remedy-across = Lanes across
remedy-greys = Greys
remedy-split = Split by { $column }
remedy-panels = A panel per { $column }
remedy-density = Show the density
remedy-usual-bins = Bins by Freedman–Diaconis
remedy-reach-guides = Let the axis reach them

## Axes, handles, names and the figure in words

and = {" "}and{" "}
unit = unit
no-unit = none
all-lanes = all lanes
axis-rows = rows
axis-percent = { $all ->
    [yes] % of all rows
   *[no] % of the rows of each group
}
axis-share = { $of ->
    [lane] share of the lane
    [panel] share of the panel
   *[all] share of all rows
}
axis-per-unit = { $of ->
    [rows] rows
   *[density] density
} per { $unit }
axis-bent-density = density per unit of { scale }
axis-cumulative = share of rows at or below
axis-normal = share of a normal distribution
axis-order = row in order
axis-difference = difference to { $lane }
axis-counts = number of { $of ->
    [subjects] subjects
   *[rows] rows
}
axis-centre = { $centre ->
    [median] median
   *[mean] mean
} of { $measure }
axis-lines = lines: { $interval }
heading-within = { $heading }: difference{ $reference ->
    [none] {""}
   *[other] {" "}to { $reference }
} within { $by }
pair-missing = in one lane only
several-measures = value
more-entries = and { $more } more
handle-bin-width = width of the bins
handle-bin-width-after = {" "}wide
handle-bin-edge = edge { $number } of the bins
handle-smoothing = smoothing of { $lane }
handle-smoothing-after = {" "}× smoothing
handle-fence = { $end ->
    [lower] lower
   *[upper] upper
} fence of { $lane }
handle-fence-after = {" "}× IQR
handle-lanes = width of lanes
handle-lanes-after = {" "}of its place
guide-percentile = percentile { $percentile }
guide-mean = mean { $sign } { $sds } SD
guide-centre = { $centre ->
    [median] median
   *[mean] mean
}
guide-above = above { $guide }
interval-low = { $closed ->
    [left] below { $edge }
   *[right] { $of ->
        [lanes] to { $edge }
       *[column] { $edge } or below
    }
}
interval-middle = { $closed ->
    [left] { $low } to below { $high }
   *[right] above { $low } to { $high }
}
interval-high = { $closed ->
    [left] { $of ->
        [lanes] { $edge } and above
       *[column] { $edge } or above
    }
   *[right] above { $edge }
}
or = {" "}or{" "}
condition-missing = { $column } { $missing ->
    [yes] missing
   *[no] not missing
}
condition-from = from { $bound }
condition-to = to { $bound }
title-across = {" "}across { $groups }
title-split = , split by { $subgroups }
title-panels = , a panel per { $panels }
description-means = { $heading }: means { $means }.
description-counts = Rows with { $heading }: { $lanes }.
description-empty = { $heading }: no rows.
description-medians = { $heading } in { $count ->
    [one] 1 lane
   *[other] { $count } lanes
}. Medians from the highest: { $medians }{ $more ->
    [0] {""}
   *[other] {" "}and { $more } more
}.
description-lane = { $lane } { $median } (n = { $n })
description-spread = { $lane } (interquartile range { $iqr })
description-spreads = Most spread: { $most }; least: { $least }.
description-skew = Skewed { $way ->
    [up] upward
   *[down] downward
}: { $lanes }.
description-beyond = Values beyond the fences: { $lanes }.
description-none-beyond = No value beyond the fences.
key-title = { $figures ->
    [one] How to read this figure
    [all] How to read these figures
   *[more] And figure { $letter }
}
no-unit-panel = no unit
all-rows = all rows
handle-axis-start = beginning of the axis
handle-axis-end = end of the axis
stem-leaf = a leaf: up to { $most } values
stem-aside = { $end ->
    [low] low
   *[high] high
}
missing-empty = empty
missing-infinite = infinite
no-p = no p-value

## The page: counts, readings and what came of a step

count-columns = { $count ->
    [one] 1 column
   *[other] { $count } columns
}
count-remarks = { $count ->
    [one] 1 remark
   *[other] { $count } remarks
}
count-limits = { $count ->
    [one] 1 limit
   *[other] { $count } limits
}
advice-rest = { $count ->
    [one] 1 more piece of advice
   *[other] { $count } more pieces of advice
}
advice-dismissed = { $count } dismissed
keys-matched = { $count ->
    [one] 1 row matches
   *[other] { $count } rows match
}
cells-guarded = { $count ->
    [one] 1 cell
   *[other] { $count } cells
} that a spreadsheet would run as { $count ->
    [one] a formula
   *[other] formulas
} got an apostrophe in front
rows-added = { count-rows } added
rows-gone = { count-rows } gone
rows-changed = { count-rows } changed
reading-name = { $reading ->
    [n] n
    [missing] Missing
    [beyond-a-limit] At limit
    [median] Median
    [quartiles] Quartiles
    [range] Range
    [IQR] IQR
    [mean-and-SD] Mean ± SD
    [SE] SE
    [CV] CV %
    [skewness] Skewness
    [kurtosis] Kurtosis
    [whiskers] Whiskers
    [fences] Fences
    [beyond] Beyond
    [slope] Slope
    [shares] Shares of values
   *[in-guides] In guides
}
reading-share = Share of { $value } (95 %)
reading-slope = Slope per { $per ->
    [year] year
    [day] day
   *[unit] { $column }
} ({ $level } %)
reading-beyond = { count-values } beyond the fences
reading-difference = Δ { centre }
reading-reference = ref.

## How lanes differ: which results fit, and remarks

fit-not-said = A p-value says how surprising the data were if nothing differed; it says neither how large a difference is nor how likely it is. No evidence of a difference is no evidence of none: that is what the interval, or a test of equivalence, is for.
fit-paired = The same subjects stand in both lanes: differences within them leave out how subjects differ.
fit-repeats = { $rows } rows come from { $people } subjects, here counted as independent: intervals are too narrow. Pair by { $identifier }, or combine the repeats in the table.
fit-skewed-and-few = { $skewed } { $count ->
    [one] is
   *[other] are
} skewed and { $few } small: means wander, orders do not.
fit-skewed = { $skewed }: skewed, so medians and orders say more than means; Welch's t holds for this many.
fit-above-zero = All values are above zero: a ratio of geometric means is a difference on a logarithmic axis.
fit-means = No lane is strongly skewed: means stand for their lanes.
fit-spreads = Spreads differ by more than a factor of two: Welch's t allows for it, a pooled SD (Hedges g) does not.
difference-of-differences = ({ $last } − { $first }) in { $other } less that in { $reference }
result-censored = { count-values } beyond a detection limit { $count ->
    [one] is
   *[other] are
} in no number here.
result-counted = Two factors together would need the rows of a far table one by one; pairs are compared by their counts.
result-together = Intervals hold together: each is wider, by Bonferroni.
result-few-partitions = Only the first { $most } of { $pairs } pairs of lanes were asked whether they need limits of their own.
result-few-runs = { $lane }: needs two runs, and two values in one of them.
result-remark = { $lane }: { $remark }.
pair-row = row
pairs-by = { $count ->
    [one] 1 pair
   *[other] { $count } pairs
} by { $by }
pairs-reduced = several rows of one subject reduced to their { repeats } ({ $rows } { $rows ->
    [one] row
   *[other] rows
} fewer)
pairs-alone = { $count ->
    [one] 1 subject stands in one lane only and is
   *[other] { $count } subjects stand in one lane only and are
} left out
pairs-mixed = All { $rows } rows of { $people } subjects by { $by }, in a mixed model.

## What the reader of a file guessed or met, and what undoes it

sheet = “{ $name }”{ $hidden ->
    [yes] {" "}(hidden)
   *[no] {""}
}
read-sheet = Sheet “{ $name }” was read; the workbook also holds { $others }.
undo-sheet = Read “{ $name }”
undo-append-sheets = Append the sheets like it
read-uncalculated = { $count ->
    [one] 1 formula was
   *[other] { $count } formulas were
} never calculated; read as missing. Open the workbook, save it and bring it again.
read-order = { $column } is read as an order: { $levels }.
undo-order = Undo
read-codes = { $column }: whole numbers read as { $kind ->
    [category] codes, a category
   *[identifier] an identifier
}.
undo-codes = They are amounts
read-unclear-dates = { $column } looks like dates, but nothing settles whether “{ $cell }” is day or month first; kept as text.
undo-dates = { $order ->
    [day] Day first
   *[month] Month first
}
read-missing = “{ $word }” stands among the numbers of { $column } { $count ->
    [one] once
   *[other] { $count } times
}; read as missing.
undo-missing = Read as words
read-odd-decimal = { $column } reads “{ $cell }”, the others use another decimal mark. Read as { $value }.
undo-odd-decimal = Make it missing
read-odd-decimals = { $count } more { $count ->
    [one] cell
   *[other] cells
} of { $column } use another decimal mark.
read-above-heading = Above the heading, left out: “{ $text }”.
undo-above-heading = Use it as the heading
read-no-heading = No heading: the columns got names.
undo-no-heading = Line { $line } is the heading
read-tail = { $what ->
    [total] Left out below the records, a total: “{ $text }”.
   *[note] Left out below the records, a note: “{ $text }”.
}
undo-tail = Keep what stands below
read-short-rows = { $count ->
    [one] 1 short row was
   *[other] { $count } short rows were
} filled with missing cells.
read-long-rows = { $count ->
    [one] 1 row holds
   *[other] { $count } rows hold
} more cells than the heading; each extra cell got a column of its own.
read-nameless = Without a name in the file: { $column }.
read-double-name = Names that stand twice in the heading; the later columns are { $column }.
read-thousands = Nothing settles the decimal mark; commas were read as thousands separators.
undo-thousands = They are decimal commas
read-spaces = Spaces around the cells were taken off in { $columns }.
read-near-levels = “{ $level }” ({ count-rows }) differs from “{ $other }” only in case or spaces; kept apart.
undo-near-levels = Join them
read-units = Units stand apart from the names: { $headings }.
undo-units = Keep the headings whole
read-summaries = These are summaries ({ $what } per { $group }), not rows: they can be drawn as means with intervals, and as nothing else, since quartiles, densities and points need the rows.
read-wide = “{ $first }” to “{ $last }” hold { $count } values of each row side by side.
undo-wide = Turn them round
undo-each = { $column }: { $undo }
undo-kind = Read it as { $kind ->
    [category] a category
    [measure] a measure
   *[text] text
}
read-marks = { $marks } { $cells ->
    [one] stands for 1 missing cell
   *[other] stands for { $cells } missing cells
} in { $column }.
read-mark-kept = { $marks } in { $column } is written like the other levels and was kept as one.
undo-mark-kept = It means missing
read-zeros = { $column }: numbers with leading zeros beside others, read as an identifier.
read-long = { $column }: whole numbers beyond 2⁵³ (about 16 digits), read as an identifier, since a number would lose digits.
read-years = { $column } holds years, read as { $kind ->
    [date] dates
   *[category] an ordered category
}.
read-compact-dates = { $column }: eight digits read as dates (year, month, day).
read-serial-dates = { $column }: a spreadsheet’s serial numbers of days read as dates.
read-names = { $column } names each row, read as an identifier.
read-clock = { $column } holds clock times or durations, kept as text.
read-date-order = { $column }: dates read { $order ->
    [day] day first
   *[month] month first
}, since a number above 12 settles it.
read-date-zone = { $column }: times are those of { $zone }, as all of them say.
read-date-zones = { $column }: times of several zones were turned to UTC.
read-date-mixed = { $column }: dates in several spellings, each read by its own.
read-missing-more = { $words } stand among the numbers of { $column } in { $count } cells; read as missing.
read-spelling = { $column }: { $count ->
    [one] 1 cell
   *[other] { $count } cells
} { $way ->
    [dash] with a dash as minus
    [digits] in another script’s digits
    [thousands] with apostrophes for thousands
    [limit] with a limit in words
    [flag] with a flag beside the number
    [unit] with a unit beside the number
    [spread] with a spread behind ±
    [bracket] with more in brackets
    [power] as a power of ten
   *[about] with “about”
}, read as { $count ->
    [one] a number
   *[other] numbers
}: “{ $cell }” as { $value }.
read-decimal-column = { $column }: numbers have a decimal { $mark }, other columns another mark.
undo-decimal-column = Read a decimal { $mark }
read-repeated-heading = The heading stands again { $count ->
    [one] in 1 row
   *[other] in { $count } rows
} below; left out{ $titles ->
    [yes] , with the titles above it: { $text }
   *[no] {""}
}.
read-inner-rows = Left out between the records, { $what ->
    [total] { $count ->
        [one] a row of totals or means
       *[other] { $count } rows of totals or means
    }
   *[note] { $count ->
        [one] a note
       *[other] { $count } notes
    }
}: “{ $text }”.
read-second-table = Another table begins here, “{ $text }”; its { $count ->
    [one] row was
   *[other] { $count } rows were
} left out.
undo-second-table = Read the table from line { $line }
read-short-heading = The heading is one name short: the first column holds names of the rows.
read-long-name = { $column }: the name was cut after { $most } characters.
read-broken-quote = { $count ->
    [one] A quote is never closed as it should be; its line was
   *[other] { $count } quotes are never closed as they should be; their lines were
} cut as if it were a letter.
read-no-mark = The text says nowhere that it is { $name }; read so by its zeros.
read-code-page = The text is no Unicode; read as { $name }: “{ $text }”.
undo-code-page = Read as { $name }
read-controls = { $count ->
    [one] 1 control character was
   *[other] { $count } control characters were
} taken out.
read-unaccounted = { $column }: { $count } cells that hold something are neither a value nor named here. Check the column against the file.
read-richest = No column holds a measurement; { $column } has the most levels and is read as a measure.
read-missing-code = { $code } stands { $count ->
    [one] once
   *[other] { $count } times
} in { $column }, far outside the other numbers: does it mean missing?
undo-missing-code = { $code } means missing
read-blank-sheet = Sheet “{ $name }” is blank.
read-error-cells = { $count ->
    [one] 1 cell holds
   *[other] { $count } cells hold
} a spreadsheet’s error; read as missing.
read-hidden = Hidden or filtered parts of the sheet were read too: { $rows } rows, { $columns } columns.
read-merged-cells = { $count ->
    [one] 1 merged cell stands
   *[other] { $count } merged cells stand
} in every row that it covers.
undo-merged-cells = In its first row alone
read-struck = { $count ->
    [one] 1 cell is struck through and was
   *[other] { $count } cells are struck through and were
} read like the others.
read-bytes = { $column } holds bytes that are no text, written as hexadecimal digits.
read-duration = { $column } holds durations, read in seconds.
read-labels = The file has longer names beside the short ones: { $labels }.
undo-labels = Use the longer names

## The first question of a table

question = { $kind ->
    [counts] Count the rows
   *[measures] Compare { $measure }
}{ $across ->
    [yes] {" "}across { $groups }
   *[no] {""}
}

## More of what the reader of a file met

read-percent-mixed = { $column }: percents beside { $count ->
    [one] 1 plain number
   *[other] { $count } plain numbers
}, which may be shares; read as they stand.
read-several-units = { $column } holds several units, { $units }: the amounts beside it are no one measure.
undo-several-units = Keep { $unit } alone
read-pasted-commas = Lines of one comma each, read as one column of decimal commas.
undo-pasted-commas = They are two columns
