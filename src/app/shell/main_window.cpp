// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.hpp"

#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMenuBar>
#include <QMimeData>
#include <QSettings>
#include <QTimer>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/help_dialog.hpp"
#include "app/shell/latest.hpp"
#include "app/stages/listen/listen_page.hpp"
#include "app/stages/port/port_page.hpp"
#include "app/stages/timing/timing_page.hpp"
#include "app/stages/trace/trace_page.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {
namespace {

struct StageName {
    const char* id;
    const char* label;
    int number;  ///< its place among the nine, for Ctrl+1 to Ctrl+9
};
constexpr StageName stage_names[] = {
    {"port", "Port", 1}, {"trace", "Trace", 2}, {"listen", "Listen", 3}, {"timing", "Timing", 4}};

constexpr int trace_stage = 1, listen_stage = 2;  ///< places in the list above

QList<QKeySequence> keys(std::initializer_list<const char*> list) {
    QList<QKeySequence> out;
    for (const char* k : list) out << QKeySequence(QLatin1String(k));
    return out;
}

}  // namespace

MainWindow::MainWindow(const QString& demo_folder, QWidget* parent)
    : QMainWindow(parent), demo_folder_(demo_folder) {
    const StyleRest rest;
    setAcceptDrops(true);
    setMinimumSize(960, 640);
    files_ = new FileFlow(document_, this);
    tell_of_memory = [this](const QString& message) { files_->tell(message); };

    auto* whole = new QWidget;
    auto* row = new QHBoxLayout(whole);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    rail_ = new Rail;
    row->addWidget(rail_);
    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    auto* header = new QWidget;
    header->setFixedHeight(50);
    header->setAutoFillBackground(true);
    header->setBackgroundRole(QPalette::AlternateBase);
    auto* head = new QHBoxLayout(header);
    head->setContentsMargins(20, 0, 16, 0);
    sentence_ = new QLabel;
    sentence_->setFont(text_font(17, true));
    detail_ = secondary_label({});
    detail_->setFont(text_font(12));
    detail_->setWordWrap(false);
    detail_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    head->addWidget(sentence_);
    head->addSpacing(12);
    head->addWidget(detail_, 1);
    header_widgets_ = new QHBoxLayout;
    header_widgets_->setSpacing(8);
    head->addLayout(header_widgets_);
    middle->addWidget(header);
    notice_ = new QLabel;
    notice_->setObjectName(QStringLiteral("notice"));
    notice_->setWordWrap(true);
    notice_->setContentsMargins(20, 6, 16, 6);
    notice_->setAutoFillBackground(true);
    notice_->setBackgroundRole(QPalette::Highlight);
    notice_->setForegroundRole(QPalette::HighlightedText);
    notice_->hide();
    middle->addWidget(notice_);
    auto* below = new QHBoxLayout;
    below->setSpacing(0);
    stack_ = new QStackedWidget;
    below->addWidget(stack_, 1);
    findings_ = new FindingsPanel;
    below->addWidget(findings_);
    middle->addLayout(below, 1);
    row->addLayout(middle, 1);
    setCentralWidget(whole);

    port_ = new PortPage(document_);
    listen_ = new ListenPage(document_, *files_);
    timing_ = new TimingPage(document_);
    trace_ = new TracePage(document_);
    pages_ = {port_, trace_, listen_, timing_};
    for (int i = 0; i < pages_.size(); ++i) {
        stack_->addWidget(pages_[i]);
        rail_->add_stage(tr(stage_names[i].label))
            ->setToolTip(tr("%1 (Ctrl+%2)").arg(tr(stage_names[i].label)).arg(stage_names[i].number));
        for (auto* w : pages_[i]->header_widgets()) {
            header_widgets_->addWidget(w);
            w->setVisible(false);
        }
        connect(pages_[i], &StagePage::header_changed, this, &MainWindow::refresh_header);
        connect(pages_[i], &StagePage::place_wanted, this,
                [this](const QString& stage, const FindingPlace& place) {
                    Finding finding;
                    finding.stage = stage.toStdString();
                    finding.place = place;
                    open_finding(finding);
                });
        connect(pages_[i], &StagePage::example_wanted, this,
                [this] { (void)files_->open_example(demo_path()); });
    }
    // Work over half a second shows how far it is, and can be stopped.
    busy_ = new QWidget(this);
    auto* busy_row = new QHBoxLayout(busy_);
    busy_row->setContentsMargins(0, 0, 0, 0);
    progress_ = new QProgressBar;
    progress_->setRange(0, 1000);
    progress_->setFixedWidth(120);
    progress_->setTextVisible(false);
    progress_->setAccessibleName(tr("Computing"));
    auto* cancel = new QPushButton(tr("Cancel"));
    connect(cancel, &QPushButton::clicked, &document_, &Document::cancel_analysis);
    busy_row->addWidget(progress_);
    busy_row->addWidget(cancel);
    head->addWidget(busy_);
    busy_->hide();
    auto* patience = new QTimer(this);
    patience->setSingleShot(true);
    patience->setInterval(500);
    connect(patience, &QTimer::timeout, busy_, &QWidget::show);
    connect(&document_, &Document::busy_changed, this, [this, patience](bool busy) {
        if (busy) {
            refresh();  // what is shown was said before anything was under way
            if (!busy_->isVisible() && !patience->isActive()) patience->start();
            return;
        }
        patience->stop();
        busy_->hide();
    });
    connect(&document_, &Document::progressed, this,
            [this](double f) { progress_->setValue(static_cast<int>(f * 1000)); });

    build_actions();
    build_menus();
    connect(&files_->safekeeping(), &Safekeeping::trouble, this, [this](const QString& message) {
        journal_trouble_ = message;
        refresh_notice();
    });
    connect(&document_, &Document::refused, this, [] { QApplication::beep(); });
    // The field that it was typed into first settles with what it had.
    connect(
        &document_, &Document::unstorable, this, [this](const QString& why) { files_->tell(why); },
        Qt::QueuedConnection);
    connect(
        &document_, &Document::not_computed, this, [this](const QString& why) { files_->tell(why); },
        Qt::QueuedConnection);
    connect(rail_, &Rail::selected, this, &MainWindow::show_stage);
    connect(findings_, &FindingsPanel::opened, this, &MainWindow::open_finding);
    connect(&document_, &Document::changed, this, &MainWindow::refresh);
    connect(&document_, &Document::analysed, this, &MainWindow::refresh);
    connect(&document_.undo_stack(), &QUndoStack::cleanChanged, this, &MainWindow::refresh);
    connect(files_, &FileFlow::capture_added, this, [this](const QString& id) {
        show_stage(listen_stage);
        listen_->show_capture(id);
    });
    connect(files_, &FileFlow::picture_dropped, this, [this](const QString& path) {
        show_stage(trace_stage);
        trace_->add_scan(path);
    });
    show_stage(listen_stage);
    listen_->waves().setFocus();
    refresh();
}

MainWindow::~MainWindow() {
    tell_of_memory = nullptr;
    // A field commits when it loses the focus: while the document is still there.
    if (auto* field = focusWidget()) field->clearFocus();
    // The undo stack speaks once more while it is taken down; nobody here is left to listen.
    document_.undo_stack().disconnect();
    document_.disconnect();
}

void MainWindow::build_actions() {
    const auto file = tr("&File");
    const auto edit = tr("&Edit");
    const auto view = tr("&View");
    actions_.add("file.new", file, tr("&New dossier"), keys({"Ctrl+N"}), [this] { files_->make_new(); });
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
    for (int i = 0; i < pages_.size(); ++i)
        actions_.add(QStringLiteral("view.%1").arg(QLatin1String(stage_names[i].id)), view,
                     tr(stage_names[i].label),
                     {QKeySequence(QStringLiteral("Ctrl+%1").arg(stage_names[i].number))},
                     [this, i] { show_stage(i); });
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
    listen_->describe_keys(actions_);
    port_->describe_keys(actions_);
    trace_->describe_keys(actions_);
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

QString MainWindow::demo_path() const {
    return demo_folder_ + QStringLiteral("/calder-dial-pad.relic");
}

void MainWindow::show_stage(int index) {
    if (index < 0 || index >= pages_.size()) return;
    stack_->setCurrentIndex(index);
    rail_->select(index);
    for (int i = 0; i < pages_.size(); ++i)
        for (auto* w : pages_[i]->header_widgets()) w->setVisible(i == index);
    refresh();
}

void MainWindow::refresh() {
    const auto& findings = document_.analysis().findings;
    const bool more_to_come =
        document_.is_open() && !document_.is_current() &&
        (!document_.analysis().under_way.empty() || document_.analysis().by_check.empty());
    for (int i = 0; i < pages_.size(); ++i) {
        const bool started = pages_[i]->has_content();
        auto v = started ? verdict(count(findings, stage_names[i].id)) : Verdict::unknown;
        if (more_to_come && v == Verdict::holds) v = Verdict::unknown;  // nobody knows that yet
        rail_->stages().at(i)->show_state(v, started ? pages_[i]->rail_line() : tr("not started"));
    }
    const auto& about = *document_.dossier().about;
    const auto state = !document_.read_only().isEmpty() ? tr("read-only")
                       : document_.is_modified()        ? tr("changed")
                                                        : tr("saved");
    rail_->show_dossier(document_.is_open() ? to_q(about.name) : tr("No dossier"),
                        document_.is_open() ? tr("rev %1 · %2").arg(about.revision).arg(state) : QString());
    setWindowTitle(document_.is_open() ? tr("%1%2 · Gray Relic")
                                             .arg(to_q(about.name),
                                                  document_.is_modified() ? QStringLiteral(" *") : QString())
                                       : tr("Gray Relic"));
    actions_.find(QStringLiteral("file.save"))->setEnabled(document_.is_open());
    actions_.find(QStringLiteral("file.save-as"))->setEnabled(document_.is_open());
    actions_.find(QStringLiteral("file.report"))->setEnabled(document_.is_open());
    findings_->show_findings(findings, QLatin1String(stage_names[stage()].id), more_to_come);
    refresh_header();
}

/// What the person must know about the safety of their edits, said for as long as it holds.
void MainWindow::refresh_notice() {
    QStringList lines;
    if (!document_.read_only().isEmpty())
        lines << tr("%1 Nothing can be changed here; Save as makes a copy that can.")
                     .arg(document_.read_only());
    if (!journal_trouble_.isEmpty())
        lines << tr("Edits can't be kept safe: %1. Save, or save elsewhere.").arg(journal_trouble_);
    // What could be typed but not taken would mislead.
    const bool fixed = !document_.read_only().isEmpty();
    for (auto* field : stack_->findChildren<Field*>()) field->set_fixed(fixed);
    for (auto* evidence : stack_->findChildren<EvidenceButton*>()) evidence->setEnabled(!fixed);
    notice_->setText(lines.join(QLatin1Char('\n')));
    notice_->setVisible(!lines.isEmpty());
}

void MainWindow::refresh_header() {
    refresh_notice();
    auto* page = pages_.at(stage());
    sentence_->setText(page->sentence());
    detail_->setText(page->detail());
    detail_->setToolTip(page->detail());
}

void MainWindow::open_finding(const Finding& finding) {
    for (int i = 0; i < pages_.size(); ++i)
        if (finding.stage == stage_names[i].id) {
            if (i != stage()) show_stage(i);
            pages_[i]->show_place(finding.place);
            return;
        }
}

void MainWindow::set_dark(bool dark) {
    apply_theme(*qApp, dark);
    QSettings().setValue(QStringLiteral("dark"), dark);
    actions_.find(QStringLiteral("view.dark"))->setChecked(dark);
    for (auto* w : findChildren<QWidget*>()) w->update();
    refresh();
}

void MainWindow::closeEvent(QCloseEvent* e) {
    if (!files_->may_leave()) {
        e->ignore();
        return;
    }
    files_->leave();
    QSettings().setValue(QStringLiteral("geometry"), saveGeometry());
    QSettings().setValue(QStringLiteral("stage"), stage());
    e->accept();
}

void MainWindow::resizeEvent(QResizeEvent* e) {
    // A narrow window gives its drawings the room first.
    findings_->setFixedWidth(width() < 1200 ? 232 : 284);
    QMainWindow::resizeEvent(e);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) {
    QStringList paths;
    for (const auto& url : e->mimeData()->urls())
        if (url.isLocalFile()) paths << url.toLocalFile();
    e->acceptProposedAction();
    files_->drop(paths);
}

}  // namespace grayrelic::app
