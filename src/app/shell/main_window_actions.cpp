// SPDX-License-Identifier: GPL-3.0-or-later
// The window's commands, their keys, and the menus.
#include "app/shell/main_window.hpp"

#include <QApplication>
#include <QMenuBar>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/help_dialog.hpp"

namespace grayrelic::app {
namespace {

QList<QKeySequence> keys(std::initializer_list<const char*> list) {
    QList<QKeySequence> out;
    for (const char* k : list) out << QKeySequence(QLatin1String(k));
    return out;
}

}  // namespace

void MainWindow::build_actions() {
    const auto file = tr("&File");
    const auto edit = tr("&Edit");
    const auto view = tr("&View");
    actions_.add("file.new", file, tr("&New dossier"), keys({"Ctrl+N"}), [this] {
        files_->make_new();
        show_stage(Stage::plan);
    });
    actions_.add("file.open", file, tr("&Open dossier…"), keys({"Ctrl+O"}),
                 [this] { files_->open_with_dialog(); });
    actions_.add("file.demo", file, tr("Open the shipped &example"), {},
                 [this] { (void)files_->open_example(demo_path()); });
    actions_.add("file.capture", file, tr("Add &capture…"), keys({"Ctrl+I"}),
                 [this] { files_->add_captures_with_dialog(); });
    actions_.add("file.save", file, tr("&Save"), keys({"Ctrl+S"}), [this] { (void)files_->save(); });
    actions_.add("file.save-as", file, tr("Save &as…"), keys({"Ctrl+Shift+S"}),
                 [this] { (void)files_->save_as(); });
    actions_.add("file.report", file, tr("Write &report…"), keys({"Ctrl+E"}),
                 [this] { files_->write_report(); });
    actions_.add("file.sheet", file, tr("Question s&heet…"), keys({"Ctrl+Shift+E"}),
                 [this] { files_->write_sheet(); });
    actions_.add("file.quit", file, tr("&Quit"), keys({"Ctrl+Q"}), [this] { close(); });
    auto* undo = actions_.add("edit.undo", edit, tr("&Undo"), keys({"Ctrl+Z"}),
                              [this] { document_.undo_stack().undo(); });
    auto* redo = actions_.add("edit.redo", edit, tr("&Redo"), keys({"Ctrl+Shift+Z", "Ctrl+Y"}),
                              [this] { document_.undo_stack().redo(); });
    connect(&document_.undo_stack(), &QUndoStack::undoTextChanged, undo,
            [undo](const QString& t) { undo->setText(t.isEmpty() ? tr("&Undo") : tr("&Undo: %1").arg(t)); });
    connect(&document_.undo_stack(), &QUndoStack::redoTextChanged, redo,
            [redo](const QString& t) { redo->setText(t.isEmpty() ? tr("&Redo") : tr("&Redo: %1").arg(t)); });
    connect(&document_.undo_stack(), &QUndoStack::canUndoChanged, undo, &QAction::setEnabled);
    connect(&document_.undo_stack(), &QUndoStack::canRedoChanged, redo, &QAction::setEnabled);
    undo->setEnabled(false);
    redo->setEnabled(false);
    for (auto* p : pages_) {
        const auto stage = p->stage();
        const auto key = stage_key(stage);
        actions_.add(QStringLiteral("view.%1").arg(to_q(word(stage))), view, to_q(label(stage)),
                     key.isEmpty() ? QList<QKeySequence>{} : QList{QKeySequence(key)},
                     [this, stage] { show_stage(stage); });
    }
    actions_.add("view.next-finding", view, tr("Next finding"), keys({"F8"}), [this] { findings_->step(1); });
    actions_.add("view.previous-finding", view, tr("Previous finding"), keys({"Shift+F8"}),
                 [this] { findings_->step(-1); });
    actions_.add("view.all-findings", view, tr("Findings of all stages"), keys({"F7"}),
                 [this] { findings_->toggle_all(); });
    auto* dark = actions_.add("view.dark", view, tr("&Night bench (dark)"), keys({"Ctrl+D"}), [] {});
    dark->setCheckable(true);
    dark->setChecked(theme().dark);
    connect(dark, &QAction::toggled, this, &MainWindow::set_dark);
    actions_.add("help.shortcuts", tr("&Help"), tr("&Shortcuts"), keys({"F1"}),
                 [this] { HelpDialog(actions_, this).exec(); });
    for (const auto& e : actions_.entries()) addAction(e.action);
    for (const auto* p : pages_) p->describe_keys(actions_);
}

void MainWindow::build_menus() {
    QMap<QString, QMenu*> menus;
    for (const auto& e : actions_.entries()) {
        auto*& menu = menus[e.menu];
        if (menu == nullptr) menu = menuBar()->addMenu(e.menu);
        if (e.id == QLatin1String("file.save") || e.id == QLatin1String("file.quit") ||
            e.id == QLatin1String("view.next-finding") || e.id == QLatin1String("view.dark"))
            menu->addSeparator();
        menu->addAction(e.action);
        if (e.id == QLatin1String("file.open")) recent_menu_ = menu->addMenu(tr("Recent"));
    }
    const auto fill = [this] {
        recent_menu_->clear();
        for (const auto& folder : files_->recent())
            connect(
                recent_menu_->addAction(folder), &QAction::triggered, this,
                [this, folder] { (void)files_->open(folder); },
                // Opening refills this menu, so it must not run inside the click.
                Qt::QueuedConnection);
        recent_menu_->setEnabled(!recent_menu_->isEmpty());
    };
    connect(files_, &FileFlow::recent_changed, this, fill);
    fill();
}

}  // namespace grayrelic::app
