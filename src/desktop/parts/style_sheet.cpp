#include "style_sheet.h"

/// Outside of any namespace, as the macro wants it: a library's resources are there only once they are asked for.
static void initMarks()
{
    Q_INIT_RESOURCE(marks);
}

namespace fulvex {

QPalette paletteOf(const Look &look)
{
    QPalette palette;
    palette.setColor(QPalette::Window, look.panel);
    palette.setColor(QPalette::WindowText, look.ink);
    palette.setColor(QPalette::Base, look.panel);
    palette.setColor(QPalette::AlternateBase, look.paper);
    palette.setColor(QPalette::Text, look.ink);
    palette.setColor(QPalette::Button, look.tile);
    palette.setColor(QPalette::ButtonText, look.ink);
    palette.setColor(QPalette::Highlight, look.accentWash);
    palette.setColor(QPalette::HighlightedText, look.ink);
    palette.setColor(QPalette::PlaceholderText, look.quiet);
    palette.setColor(QPalette::ToolTipBase, look.tile);
    palette.setColor(QPalette::ToolTipText, look.ink);
    palette.setColor(QPalette::Mid, look.hairline);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        palette.setColor(QPalette::Disabled, role, look.quiet);
    return palette;
}

QString styleSheetOf(const Look &look)
{
    const QString sheet = R"(
* { font-family: "@family"; font-size: 12px; }
QMainWindow, QDialog { background: @paper; }
QWidget#topBar { background: @paper; border-bottom: 1px solid @line; }
QMenuBar { background: transparent; } QMenuBar::item { padding: 5px 7px; background: transparent; } QMenuBar::item:selected { background: @wash; border-radius: 3px; }
QMenu { background: @tile; border: 1px solid @line; padding: 4px; } QMenu::item { padding: 4px 22px 4px 14px; border-radius: 3px; } QMenu::item:selected { background: @wash; }
QMenu::separator { height: 1px; background: @line; margin: 4px 8px; }
QLabel#heading { font-weight: 600; font-size: 13px; } QLabel#quiet { color: @quiet; }
QLineEdit, QComboBox { background: transparent; border: none; border-bottom: 1px solid @line; padding: 2px 3px; selection-background-color: @wash; selection-color: @ink; }
QLineEdit:focus, QComboBox:focus { border-bottom: 1px solid @accent; background: @tile; }
QComboBox::drop-down { border: none; width: 16px; } QComboBox::down-arrow { image: url(@down); width: 9px; height: 6px; } QComboBox QAbstractItemView { background: @tile; border: 1px solid @line; }
QLineEdit#ask { background: @tile; border: 1px solid @line; border-radius: 10px; padding: 3px 12px; } QLineEdit#ask:focus { border: 1px solid @accent; }
QListWidget#askList { background: @tile; border: 1px solid @line; border-radius: 4px; padding: 2px; } QListWidget#askList::item { height: 24px; padding-left: 8px; border: 0px solid transparent; background: transparent; } QListWidget#askList::item:selected { background: @wash; color: @ink; }
QFrame#formulaEditor { background: @panel; border: 1px solid @quiet; border-radius: 5px; } QPlainTextEdit#formulaText { background: @tile; border: 1px solid @line; border-radius: 3px; selection-background-color: @wash; selection-color: @ink; } QPlainTextEdit#formulaText:focus { border-color: @accent; }
QListView#formulaCompletion { background: @tile; border: 1px solid @line; selection-background-color: @wash; selection-color: @ink; }
QPushButton, QToolButton#chainAdd { background: @tile; border: 1px solid @line; border-radius: 4px; padding: 5px 10px; } QToolButton#chainAdd { padding: 0px 6px; font-size: 15px; }
QPushButton[small="true"] { padding: 1px 7px; border-radius: 3px; color: @quiet; } QPushButton[small="true"]:hover { color: @ink; }
QPushButton:hover, QToolButton#chainAdd:hover { border-color: @quiet; } QPushButton:focus { border-color: @accent; } QToolButton::menu-indicator { image: none; }
QCheckBox::indicator, QAbstractItemView::indicator { width: 12px; height: 12px; border: 1px solid @quiet; border-radius: 3px; background: @tile; } QCheckBox::indicator:focus, QAbstractItemView::indicator:focus { border-color: @accent; }
QCheckBox::indicator:checked, QAbstractItemView::indicator:checked { image: url(@tick); background: @wash; } QCheckBox::indicator:indeterminate, QAbstractItemView::indicator:indeterminate { background: @line; } QCheckBox::indicator:disabled, QAbstractItemView::indicator:disabled { border-color: @line; }
QTableView { background: @panel; selection-background-color: @wash; selection-color: @ink; outline: none; } QTableView::item { padding: 0px 6px; border: none; }
QTableView#stepTests, QTableView#comparedSettings, QTableView#comparedNumbers { background: @tile; }
QHeaderView { background: @panel; } QHeaderView::section { background: @panel; color: @quiet; border: none; border-bottom: 1px solid @line; padding: 2px 6px; font-weight: 400; }
QTabBar { background: @panel; } QTabBar::tab { background: @panel; color: @quiet; padding: 5px 15px; border: none; border-top: 2px solid transparent; }
QTabBar::tab:selected { background: @tile; color: @ink; font-weight: 600; border-top: 2px solid @accent; }
QSplitter::handle { background: @line; } QSplitter::handle:horizontal { width: 1px; } QSplitter::handle:vertical { height: 1px; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; } QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
QScrollBar::handle { background: @line; border-radius: 4px; min-height: 24px; min-width: 24px; } QScrollBar::handle:hover { background: @quiet; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; } QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QSlider::groove:horizontal { height: 3px; background: @line; border-radius: 1px; } QSlider::sub-page:horizontal { background: @quiet; height: 3px; }
QSlider::handle:horizontal { width: 12px; height: 12px; margin: -6px 0; border: 2px solid @quiet; background: @tile; border-radius: 8px; } QSlider::handle:horizontal:focus { border-color: @accent; }
QProgressBar { border: 1px solid @line; background: @tile; border-radius: 3px; height: 10px; text-align: center; } QProgressBar::chunk { background: @quiet; }
QToolTip { background: @tile; color: @ink; border: 1px solid @line; padding: 3px; }
QWidget#importPage { background: @panel; } QWidget#understoodBody { background: @panel; } QScrollArea#understood { background: @panel; border-left: 1px solid @line; }
QFrame#columnCard { background: @tile; border: 1px solid @line; border-radius: 4px; } QTabBar#importTabs::tab { padding: 4px 14px; border-top: none; border-bottom: 2px solid transparent; } QTabBar#importTabs::tab:selected { border-bottom: 2px solid @accent; background: transparent; }
QPushButton#place, QPushButton#placeYours { border: none; background: transparent; padding: 0 4px; color: @words; font-size: 14px; } QPushButton#placeYours { font-size: 12px; font-weight: 600; }
QPushButton#importAdd { background: @wash; border-color: @accent; font-weight: 600; } QPushButton#importAdd:disabled { background: @tile; border-color: @line; color: @quiet; font-weight: 400; }
QWidget#firstPage { background: @paper; } QLabel#firstTitle { font-size: 30px; font-weight: 600; } QLabel#firstLine { font-size: 16px; font-weight: 600; } QLabel#firstAsks { font-size: 14px; color: @quiet; padding-bottom: 5px; } QFrame#firstDrop { border: 2px dashed @line; border-radius: 8px; background: @tile; }
QFrame#tour { background: @tile; border: 1px solid @quiet; border-radius: 8px; } QLabel#tourWords { font-size: 13px; }
QListWidget#firstRecent { background: transparent; } QListWidget#firstRecent::item { border-radius: 4px; padding: 3px; } QListWidget#firstRecent::item:selected, QListWidget#firstRecent::item:hover { background: @wash; color: @ink; }
QListWidget#maskList { background: @tile; border: 1px solid @line; border-radius: 4px; } QListWidget#maskList::item { padding: 4px; } QListWidget#maskList::item:selected { background: @wash; color: @ink; }
QFrame#quantityPicker { background: @panel; border: 1px solid @line; } QListWidget#pickerList { background: @panel; border: none; } QListWidget#pickerList::item:selected { background: transparent; color: @ink; border: 1px solid @quiet; border-radius: 4px; }
QWidget#manual, QWidget#manualAside { background: @panel; } QTextBrowser#manualPage { background: @tile; border-left: 1px solid @line; selection-background-color: @wash; selection-color: @ink; }
QTreeWidget#manualContents, QTreeWidget#manualFound { background: @panel; } QTreeWidget#manualContents::item, QTreeWidget#manualFound::item { height: 22px; } QTreeWidget#manualContents::item:selected, QTreeWidget#manualFound::item:selected { background: @wash; color: @ink; }
QFrame#messageBar { background: @wash; border-bottom: 1px solid @line; }
)";
    initMarks();
    QString filled = sheet;
    for (const QString mark : {"down", "tick"})
        filled.replace("@" + mark, ":/marks/" + mark + (look.dark ? "-dark.xpm" : "-light.xpm"));
    filled.replace("@family", look.font(12).family());
    const std::pair<const char *, QColor> roles[] = {
        {"@paper", look.paper},   {"@panel", look.panel},     {"@tile", look.tile},
        {"@ink", look.ink},       {"@quiet", look.quiet},     {"@line", look.hairline},
        {"@accent", look.accent}, {"@wash", look.accentWash}, {"@words", look.words(look.accent)}};
    for (const auto &[role, colour] : roles) filled.replace(role, colour.name());
    return filled;
}

} // namespace fulvex
