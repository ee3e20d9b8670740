#pragma once

#include "inspector_form.h"

#include <QScrollArea>

namespace fulvex {

/// The right panel: the settings of what is selected, applied as they change.
class InspectorView final : public QWidget {
    Q_OBJECT
public:
    explicit InspectorView(Workbench &bench, QWidget *parent = nullptr);

private:
    void rebuild();
    void follow();
    /// What a form is for; another one is made when it changes.
    QString shape() const;
    void fill(InspectorForm &form, const Selection &selection);
    /// Of a capture or a clock; null of anything else.
    const std::vector<Finding> *findingsOf(const std::string &id) const;
    std::vector<Remedy> remediesOf(const std::string &id) const;
    void fillRemedies(InspectorForm &form, const std::string &id);
    void fillNothing(InspectorForm &form);
    void fillCapture(InspectorForm &form, const std::string &id);
    void fillRun(InspectorForm &form, const std::string &id);
    void fillChannel(InspectorForm &form, const std::string &id);
    void fillParameter(InspectorForm &form, const std::string &id);
    void fillFunction(InspectorForm &form, const std::string &id);
    void fillNamed(InspectorForm &form, const std::string &id);
    void fillClock(InspectorForm &form, const std::string &id);
    void fillPresets(InspectorForm &form, const std::string &id);
    void fillEye(InspectorForm &form, const std::string &id);
    void addSymbolSearch(InspectorForm &form, const std::string &eye);
    void fillMask(InspectorForm &form, const std::string &id);
    void fillProgram(InspectorForm &form, const std::string &id);
    void fillSpectrum(InspectorForm &form, const std::string &id);
    void fillBudget(InspectorForm &form, const std::string &id);     ///< inspector_budget.cpp
    void fillPhaseNoise(InspectorForm &form, const std::string &id); ///< inspector_phase_noise.cpp
    void fillBeside(InspectorForm &form, const std::string &id);
    void fillTiles(InspectorForm &form, const std::string &id); ///< that show it, and can be set
    void fillRegion(InspectorForm &form, const std::string &id);
    void fillMarker(InspectorForm &form, const std::string &id);
    void fillNote(InspectorForm &form, const std::string &id);
    void fillMeasurement(InspectorForm &form, const std::string &id);
    /// The levels with an id, and what `owner` may do about them.
    void fillLevels(InspectorForm &form, const std::string &owner, const std::string &id);
    Workbench &m_bench;
    QScrollArea *m_scroll;
    QWidget *m_page; ///< the form's: a widget that comes into a window or leaves it is dressed anew with all in it
    InspectorForm *m_form = nullptr;
    Selection m_of; ///< that the form is for: of another one it is shown from its beginning
    QString m_shape;
};

} // namespace fulvex
