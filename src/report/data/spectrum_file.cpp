#include "spectrum_file.h"

#include "number_text.h"

#include <cmath>
#include <initializer_list>
#include <numbers>

namespace fulvex {

namespace {

void addLine(std::string &csv, std::initializer_list<double> values)
{
    const char *separator = "";
    for (const double value : values) {
        csv += separator + plainText(value);
        separator = ",";
    }
    csv += '\n';
}

} // namespace

std::string spectrumCsv(const SpectrumResult &result)
{
    std::string csv;
    if (result.spectrum) {
        const PowerSpectrum &power = result.spectrum->power;
        csv = "frequency_Hz,density_" + result.unit + "2_per_Hz,rms_" + result.unit + "\n";
        for (std::size_t line = 0; line < power.density.size(); ++line)
            addLine(csv, {double(line) * power.step, power.density[line],
                          std::sqrt(power.density[line] * power.resolution())});
    } else if (result.transfer) {
        const TransferFunction &transfer = *result.transfer;
        csv = "frequency_Hz,magnitude_dB,phase_deg,coherence\n";
        for (std::size_t line = 0; line < transfer.size(); ++line) {
            const std::complex<double> response = transfer.response(line);
            addLine(csv, {double(line) * transfer.step, 20 * std::log10(std::abs(response)),
                          std::arg(response) * 180 / std::numbers::pi, transfer.coherence(line)});
        }
    } else if (result.autocorrelation) {
        csv = "lag_s,coefficient\n";
        for (std::size_t lag = 0; lag < result.autocorrelation->coefficients.size(); ++lag)
            addLine(csv, {double(lag) * result.autocorrelation->interval, result.autocorrelation->coefficients[lag]});
    }
    return csv;
}

} // namespace fulvex
