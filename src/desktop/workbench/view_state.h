#pragma once

#include <QElapsedTimer>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace fulvex {

/// Which sheet is shown, what of the record it and its tiles show, and how one got there. Values alone: what there is
/// to see, and how far, is known to whoever keeps one.
class ViewState {
public:
    struct View {
        double from, to; ///< s
        bool operator==(const View &) const = default;
    };
    /// A view of a sheet, or of one of its tiles where that is not empty.
    struct Visit {
        std::string sheet, tile;
        View view;
        bool operator==(const Visit &) const = default;
    };
    /// Another project, of which nothing was shown yet.
    void begin(std::string sheet);
    const std::string &sheet() const { return m_sheet; }
    void setSheet(std::string id) { m_sheet = std::move(id); }
    /// Whether a view was put since begin() or forget().
    bool isChosen() const { return m_chosen; }
    void forget() { m_chosen = false; }
    /// What a tile of that id shows where it was put, else (or without one) the sheet's view.
    View view(const std::string &tile = {}) const;
    std::optional<View> ownView(const std::string &tile) const;
    /// Shows that from now on.
    void put(const Visit &visit);
    /// The view was changed from `before`. Changes that follow each other closely, as in a drag or in turns of the
    /// wheel, are one step back; except where `step` says otherwise.
    void changed(Visit before, bool step);
    /// To the view before, or on again: what to put then; views of what is there no more are left out.
    using IsThere = std::function<bool(const Visit &)>;
    std::optional<Visit> back(const IsThere &isThere) { return revisit(m_back, m_forward, isThere); }
    std::optional<Visit> forward(const IsThere &isThere) { return revisit(m_forward, m_back, isThere); }
    static constexpr std::size_t kept = 200; ///< steps back
    static constexpr int pause = 600;        ///< ms between changes that are two steps

private:
    std::optional<Visit> revisit(std::vector<Visit> &from, std::vector<Visit> &to, const IsThere &isThere);
    std::string m_sheet;
    View m_view{0, 1};
    std::map<std::string, View> m_own; ///< by tile
    std::vector<Visit> m_back, m_forward;
    QElapsedTimer m_sinceChange;
    bool m_chosen = false;
};

} // namespace fulvex
