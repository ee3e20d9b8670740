#pragma once

#include "edge_finder.h"
#include "instant_errors.h"
#include "pulse_shape.h"
#include "quantity_table.h"
#include "transition_finder.h"

namespace fulvex::test {

/// What single-channel quantities ask for, of samples in memory.
class MemoryInputs final : public QuantityInputs {
public:
    explicit MemoryInputs(std::vector<double> volts, double interval = 1e-9, const LevelRule &rule = {})
        : m_rule(rule), m_source(makeMemorySource(std::move(volts), interval))
    {
    }
    /// A row of a quantity, as its table measures it; reasons come as in a row.
    Measured measure(const std::string &quantity)
    {
        m_entry = {};
        m_entry.quantity = quantity;
        try {
            return findQuantity(quantity)->measure(*this);
        } catch (const Unmeasurable &none) {
            return Measured::none(none.reason);
        }
    }
    const MeasurementEntry &entry() const override { return m_entry; }
    Progress &progress() override { return m_progress; }
    TimeAxis axis() override { return m_source->axis(); }
    SourcePtr samples() override { return m_source; }
    SampleRange range() override { return {0, m_source->axis().count}; }
    double resolution() override { return 0; }
    bool percentLevels() override { return m_rule.kind == LevelRule::Kind::percent; }
    double noise() override { return sampleNoise(*m_source, range(), *survey()); }
    std::shared_ptr<const AmplitudeSurvey> survey() override
    {
        if (!m_survey)
            m_survey = std::make_shared<const AmplitudeSurvey>(surveyAmplitudes(*m_source, range(), m_progress));
        return m_survey;
    }
    ReferenceLevels levels() override { return referenceLevels(*survey(), m_rule); }
    StateUncertainty stateUncertainty() override { return fulvex::stateUncertainty(*survey(), 0, m_rule); }
    std::shared_ptr<const EdgeList> edges() override
    {
        if (!m_edges)
            m_edges = std::make_shared<const EdgeList>(
                findEdges(*m_source, range(), levels(), EdgeInterpolation::automatic, m_progress));
        return m_edges;
    }
    std::shared_ptr<const Transitions> transitions(EdgeChoice choice) override
    {
        return std::make_shared<const Transitions>(
            findTransitions(*m_source, range(), *edges(), levels(), choice, m_progress));
    }
    std::shared_ptr<const Aberrations> aberrations(EdgeChoice choice) override
    {
        return std::make_shared<const Aberrations>(
            findAberrations(*m_source, range(), *edges(), *transitions(choice), levels(), m_progress));
    }

private:
    LevelRule m_rule;
    SourcePtr m_source;
    MeasurementEntry m_entry;
    Progress m_progress;
    std::shared_ptr<const AmplitudeSurvey> m_survey;
    std::shared_ptr<const EdgeList> m_edges;
};

} // namespace fulvex::test
