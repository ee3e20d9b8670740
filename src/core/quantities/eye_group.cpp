#include "number_text.h"
#include "quantity_support.h"
#include "quantity_table.h"

namespace fulvex {

namespace {

using In = QuantityInputs &;

using Look = QuantityInputs::EyeLook;

template <auto quantity, Look look = Look::fold>
Measured ofEye(In in)
{
    const EyeQuantities eye = in.eye(look);
    return (eye.*quantity)();
}

/// About how many points of an eye lie in a box, by its picture.
double pointsIn(const EyeCounts &picture, const EyeBox &box)
{
    double points = 0;
    const int first = int(std::floor(box.fromPhase * picture.columns)),
              last = int(std::ceil(box.toPhase * picture.columns));
    for (int row = 0; row < picture.rows.count; ++row) {
        const double level = (double(picture.rows.first) + row + 0.5) * picture.rows.width();
        if (level < box.low || level > box.high) continue;
        for (int column = first; column < last; ++column)
            points += double(picture.at(((column % picture.columns) + picture.columns) % picture.columns, row));
    }
    return points;
}

Measured ofBox(In in, bool levels)
{
    const MeasurementEntry &row = in.entry();
    if (!row.above || !row.below)
        throw Unmeasurable{"give a box in the eye: \"above\" and \"below\", \"from_phase\" and \"to_phase\""};
    const EyeBox box{row.fromPhase.value_or(0), row.toPhase.value_or(1), *row.above, *row.below};
    if (!(box.fromPhase < box.toPhase))
        throw Unmeasurable{"\"from_phase\" is not less than \"to_phase\": exchange them"};
    constexpr double most = 2e7; // each is kept
    const double points = levels ? pointsIn(in.eye(Look::fold).fold.picture, box) : 0;
    if (points > most)
        throw Unmeasurable{
            "some " + quantityText(points, "", {}, 2) +
            " points lie in the box, too many to keep each of them: make it smaller, or the eye's region"};
    return orReason(in.eyeBox(box, levels), levels
                                                ? "no point of the eye lies in the box: move it, or make it larger"
                                                : "nothing crosses the box's middle level: move it, or make it larger");
}
Measured levelsOfBox(In in)
{
    return ofBox(in, true);
}
Measured timesOfBox(In in)
{
    return ofBox(in, false);
}

constexpr Quantity eyeTable[] = {
    {"one_level", "one level", nullptr, Needs::eye, ofEye<&EyeQuantities::oneLevel>, "opening"},
    {"zero_level", "zero level", nullptr, Needs::eye, ofEye<&EyeQuantities::zeroLevel>, "opening"},
    {"eye_amplitude", "eye amplitude", nullptr, Needs::eye, ofEye<&EyeQuantities::amplitude>, "opening"},
    {"eye_height", "eye height", nullptr, Needs::eye, ofEye<&EyeQuantities::height>, "opening"},
    {"eye_width", "eye width", "s", Needs::eye, ofEye<&EyeQuantities::width, Look::crossings>, "opening"},
    {"crossing_level", "crossing level", "%", Needs::eye, ofEye<&EyeQuantities::crossingLevel>, "opening"},
    {"one_noise", "one noise", nullptr, Needs::eye, ofEye<&EyeQuantities::oneNoise>, "opening"},
    {"zero_noise", "zero noise", nullptr, Needs::eye, ofEye<&EyeQuantities::zeroNoise>, "opening"},
    {"q_factor", "Q factor", "", Needs::eye, ofEye<&EyeQuantities::qFactor>, "opening"},
    {"signal_to_noise", "signal to noise", "dB", Needs::eye, ofEye<&EyeQuantities::signalToNoise>, "opening"},
    {"eye_jitter_rms", "eye jitter, rms", "s", Needs::eye, ofEye<&EyeQuantities::jitterRms, Look::crossings>,
     "opening"},
    {"eye_jitter_pp", "eye jitter, pp", "s", Needs::eye, ofEye<&EyeQuantities::jitterPeakToPeak, Look::crossings>,
     "opening"},
    {"eye_rise_time", "eye rise time", "s", Needs::eye, ofEye<&EyeQuantities::transitionTime, Look::rises>,
     "opening levels"},
    {"eye_fall_time", "eye fall time", "s", Needs::eye, ofEye<&EyeQuantities::transitionTime, Look::falls>,
     "opening levels"},
    {"eye_box_levels", "levels in a box of the eye", nullptr, Needs::eye, levelsOfBox,
     "above below from_phase to_phase"},
    {"eye_box_times", "crossing times in a box of the eye", "s", Needs::eye, timesOfBox,
     "above below from_phase to_phase"},
};

} // namespace

QuantityGroup eyeRowQuantities()
{
    return {"eye", eyeTable};
}

} // namespace fulvex
