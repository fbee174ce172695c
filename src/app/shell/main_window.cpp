// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.hpp"

#include <QApplication>
#include <QCloseEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMimeData>
#include <QSettings>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/job/outlook.hpp"

namespace grayrelic::app {

MainWindow::MainWindow(const QString& demo_folder, const std::vector<StageEntry>& stages, QWidget* parent)
    : QMainWindow(parent), demo_folder_(demo_folder) {
    const StyleRest rest;
    setAcceptDrops(true);
    setMinimumSize(960, 640);
    files_ = new FileFlow(document_, this);
    tell_of_memory = [this](const QString& message) { files_->tell(message); };
    soon_ = new QTimer(this);
    soon_->setSingleShot(true);
    soon_->setInterval(0);
    connect(soon_, &QTimer::timeout, this, &MainWindow::refresh);

    auto* whole = new QWidget;
    auto* row = new QHBoxLayout(whole);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    rail_ = new Rail;
    row->addWidget(rail_);
    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(make_header());
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

    add_pages(stages);
    add_progress();
    build_actions();
    build_menus();
    connect_document();
    show_stage(page(Stage::plan) != nullptr ? Stage::plan : pages_.front()->stage());
    current().begin();
}

QWidget* MainWindow::make_header() {
    auto* header = new QWidget;
    header->setFixedHeight(50);
    header->setAutoFillBackground(true);
    header->setBackgroundRole(QPalette::AlternateBase);
    head_ = new QHBoxLayout(header);
    head_->setContentsMargins(20, 0, 16, 0);
    sentence_ = new QLabel;
    sentence_->setFont(text_font(17, true));
    detail_ = secondary_label({});
    detail_->setFont(text_font(12));
    detail_->setWordWrap(false);
    detail_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    head_->addWidget(sentence_);
    head_->addSpacing(12);
    head_->addWidget(detail_, 1);
    header_widgets_ = new QHBoxLayout;
    header_widgets_->setSpacing(8);
    head_->addLayout(header_widgets_);
    return header;
}

void MainWindow::add_pages(const std::vector<StageEntry>& stages) {
    for (const auto& make : stages) pages_.append(make({document_, *files_}));
    std::sort(pages_.begin(), pages_.end(),
              [](const StagePage* a, const StagePage* b) { return a->stage() < b->stage(); });
    for (auto* p : pages_) {
        stack_->addWidget(p);
        rail_->add_stage(p->stage());
        for (auto* w : p->header_widgets()) {
            header_widgets_->addWidget(w);
            w->setVisible(false);
        }
        connect(p, &StagePage::header_changed, this, [this, p] {
            if (p == &current()) refresh_header();
        });
        connect(p, &StagePage::place_wanted, this, &MainWindow::open_place);
        connect(p, &StagePage::example_wanted, this, [this] { (void)files_->open_example(demo_path()); });
    }
}

/// Work over half a second shows how far it is, and can be stopped.
void MainWindow::add_progress() {
    busy_ = new QWidget(this);
    auto* row = new QHBoxLayout(busy_);
    row->setContentsMargins(0, 0, 0, 0);
    progress_ = new QProgressBar;
    progress_->setRange(0, 1000);
    progress_->setFixedWidth(120);
    progress_->setTextVisible(false);
    progress_->setAccessibleName(tr("Computing"));
    auto* cancel = new QPushButton(tr("Cancel"));
    connect(cancel, &QPushButton::clicked, &document_, &Document::cancel_analysis);
    row->addWidget(progress_);
    row->addWidget(cancel);
    head_->addWidget(busy_);
    busy_->hide();
    auto* patience = new QTimer(this);
    patience->setSingleShot(true);
    patience->setInterval(500);
    connect(patience, &QTimer::timeout, busy_, &QWidget::show);
    connect(&document_, &Document::busy_changed, this, [this, patience](bool busy) {
        if (busy) {
            soon_->start();  // what is shown was said before anything was under way
            if (!busy_->isVisible() && !patience->isActive()) patience->start();
            return;
        }
        patience->stop();
        busy_->hide();
    });
    connect(&document_, &Document::progressed, this,
            [this](double f) { progress_->setValue(static_cast<int>(f * 1000)); });
}

void MainWindow::connect_document() {
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
    connect(findings_, &FindingsPanel::opened, this,
            [this](const Finding& f) { open_place(f.stage, f.place); });
    const auto soon = [this] { soon_->start(); };
    connect(&document_, &Document::changed, this, &MainWindow::refresh);
    connect(&document_, &Document::analysed, this, soon);
    connect(&document_.undo_stack(), &QUndoStack::cleanChanged, this, soon);
    connect(files_, &FileFlow::file_given, this, &MainWindow::give_file);
}

MainWindow::~MainWindow() {
    tell_of_memory = nullptr;
    // A field commits when it loses the focus: while the document is still there.
    if (auto* field = focusWidget()) field->clearFocus();
    // The undo stack speaks once more while it is taken down; nobody here is left to listen.
    document_.undo_stack().disconnect();
    document_.disconnect();
}

QString MainWindow::demo_path(const QString& name) const {
    return QStringLiteral("%1/%2.relic")
        .arg(demo_folder_, name.isEmpty() ? QStringLiteral("calder-dial-pad") : name);
}

StagePage* MainWindow::page(Stage stage) const {
    for (auto* p : pages_)
        if (p->stage() == stage) return p;
    return nullptr;
}

StagePage& MainWindow::current() const {
    return *pages_.at(stack_->currentIndex());
}

Stage MainWindow::stage() const {
    return current().stage();
}

void MainWindow::show_stage(Stage stage) {
    auto* shown = page(stage);
    if (shown == nullptr) return;
    stack_->setCurrentWidget(shown);
    rail_->stage(stage).setChecked(true);
    for (auto* p : pages_)
        for (auto* w : p->header_widgets()) w->setVisible(p == shown);
    refresh();
}

void MainWindow::refresh() {
    soon_->stop();
    const auto& analysis = document_.analysis();
    const auto& plan = *document_.dossier().plan;
    const auto* kind = document_.data().jobs.find(plan.kind);
    for (auto* p : pages_) {
        const bool started = p->has_content();
        if (!started && document_.is_open() && !stage_needed(plan, kind, p->stage())) {
            rail_->stage(p->stage()).show_unneeded(tr("not needed here"));
            continue;
        }
        rail_->stage(p->stage())
            .show_state(started ? stage_verdict(analysis, p->stage()) : Verdict::unknown,
                        started ? p->rail_line() : tr("not started"));
    }
    const auto& about = *document_.dossier().about;
    const auto state = !document_.read_only().isEmpty() ? tr("read-only")
                       : document_.is_modified()        ? tr("changed")
                                                        : tr("saved");
    rail_->show_dossier(
        document_.is_open() ? to_q(about.name) : tr("No dossier"),
        document_.is_open() ? tr("rev %1 · %2").arg(about.revision).arg(state) : tr("not started"));
    setWindowTitle(document_.is_open() ? tr("%1%2 · Gray Relic")
                                             .arg(to_q(about.name),
                                                  document_.is_modified() ? QStringLiteral(" *") : QString())
                                       : tr("Gray Relic"));
    actions_.find(QStringLiteral("file.save"))->setEnabled(document_.is_open());
    actions_.find(QStringLiteral("file.save-as"))->setEnabled(document_.is_open());
    actions_.find(QStringLiteral("file.report"))->setEnabled(document_.is_open());
    actions_.find(QStringLiteral("file.sheet"))->setEnabled(document_.is_open());
    findings_->show_findings(analysis.findings, stage(), document_.is_open() && more_to_come(analysis));
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
    for (auto* field : current().findChildren<Field*>()) field->set_fixed(fixed);
    for (auto* evidence : current().findChildren<EvidenceButton*>()) evidence->setEnabled(!fixed);
    notice_->setText(lines.join(QLatin1Char('\n')));
    notice_->setVisible(!lines.isEmpty());
}

void MainWindow::refresh_header() {
    refresh_notice();
    const auto& page = current();
    findings_->setVisible(page.wants_findings());
    sentence_->setText(page.sentence());
    detail_->setText(page.detail());
    detail_->setToolTip(page.detail());
}

void MainWindow::open_place(Stage stage, const FindingPlace& place) {
    auto* p = page(stage);
    if (p == nullptr) return;
    if (p != &current()) show_stage(stage);
    p->show_place(place);
}

/// The surest page takes it; of equally sure ones that which is seen, then the first.
void MainWindow::give_file(const QString& path) {
    const QFileInfo file(path);
    StagePage* best = nullptr;
    auto sure = Claim::none;
    for (auto* p : pages_)
        if (const auto claim = p->claim(file);
            claim > sure || (claim == sure && claim != Claim::none && p == &current())) {
            best = p;
            sure = claim;
        }
    if (best == nullptr) return files_->tell(tr("%1: found nothing that any stage reads").arg(path));
    show_stage(best->stage());
    best->take(file.absoluteFilePath());
}

void MainWindow::set_dark(bool dark) {
    apply_theme(*qApp, dark);
    QSettings().setValue(QStringLiteral("dark"), dark);
    actions_.find(QStringLiteral("view.dark"))->setChecked(dark);
    for (auto* w : findChildren<QWidget*>()) w->update();
    refresh();
}

void MainWindow::restore_place() {
    const QSettings settings;
    restoreGeometry(settings.value(QStringLiteral("geometry")).toByteArray());
    const auto id = settings.value(QStringLiteral("stage")).toString().toStdString();
    if (const auto stage = named<Stage>(id); stage && page(*stage) != nullptr) {
        show_stage(*stage);
        current().begin();
    }
}

void MainWindow::closeEvent(QCloseEvent* e) {
    if (!files_->may_leave()) {
        e->ignore();
        return;
    }
    files_->leave();
    QSettings().setValue(QStringLiteral("geometry"), saveGeometry());
    QSettings().setValue(QStringLiteral("stage"), to_q(word(stage())));
    e->accept();
}

void MainWindow::changeEvent(QEvent* e) {
    // Another window may have changed the drawer meanwhile.
    if (e->type() == QEvent::ActivationChange && isActiveWindow()) document_.read_person_again();
    QMainWindow::changeEvent(e);
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
