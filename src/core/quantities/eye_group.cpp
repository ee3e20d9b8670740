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

constexpr Quantity table[] = {
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
};

} // namespace

QuantityGroup eyeRowQuantities()
{
    return {"eye", table};
}

} // namespace fulvex
