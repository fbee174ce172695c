// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/log/log_page.hpp"

#include <QFile>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/record/revisions.hpp"

namespace grayrelic::app {
namespace {

/// The headings of a table, in small letters.
QStringList headings_of(const QString& path) {
    constexpr qint64 first_line = 4096;
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly)) return {};
    auto line = QString::fromUtf8(file.readLine(first_line)).trimmed().toLower();
    line.replace(QLatin1Char(';'), QLatin1Char(','));
    line.replace(QLatin1Char('\t'), QLatin1Char(','));
    QStringList out;
    for (const auto& cell : line.split(QLatin1Char(','))) out << cell.trimmed();
    return out;
}

}  // namespace

LogPage::LogPage(const StageContext& context)
    : TabbedPage(Stage::log, context.document, Rests::log | Rests::units | Rests::builds),
      document_(context.document) {
    constexpr int scrolls_under = 400;
    const auto demo = QStringLiteral("calder-dial-pad");
    trials_ = new TrialsView(document_);
    cover_ = new CoverView(document_);
    changes_ = new ChangesView(document_);
    units_ = new UnitsLogView(document_);
    money_ = new MoneyView(document_);
    publish_ = new PublishView(document_);
    find_ = new FindView(document_);
    connect(find_, &FindView::stage_wanted, this, [this](Stage stage) { Q_EMIT place_wanted(stage, {}); });
    const unsigned log = Rests::log | Rests::units;
    add_view(
        {QStringLiteral("trials"), tr("Trials"), Picture::day, demo}, trials_, log,
        [this] { trials_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("cover"), tr("Works with"), Picture::none, demo}, cover_,
        log | Rests::wire_analysis | Rests::map, [this] { cover_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("changes"), tr("Revisions"), Picture::none, demo}, changes_,
        log | Rests::builds | Rests::plan_analysis | Rests::supply, [this] { changes_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("units"), tr("Units"), Picture::none, demo}, units_,
        log | Rests::builds | Rests::readings | Rests::captures | Rests::log_analysis,
        [this] { units_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("money"), tr("Money"), Picture::none, demo}, money_,
        log | Rests::builds | Rests::plan_analysis | Rests::supply | Rests::plan | Rests::boards |
            Rests::board_analysis,
        [this] { money_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("publish"), tr("Publish"), Picture::none, demo}, publish_,
        log | Rests::plan | Rests::boards | Rests::wire | Rests::timing | Rests::ports,
        [this] { publish_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("find"), tr("Find"), Picture::none, demo}, find_,
        ~0U & ~(Rests::port_analysis | Rests::listen_analysis | Rests::timing_analysis),
        [this] { find_->refresh(); }, scrolls_under);
    empty_ = new Sheet(tr("Nothing was learned yet"));
    empty_->set_about(tr("Each run at the bench counts: what was varied, and how it went. Write one down, or "
                         "what is wrong; drop a table of trials. "
                         "Then it says which change goes with failure and which run would tell, what the "
                         "next board must have, and what can be published."),
                      true);
    auto* begin = new QPushButton(tr("Begin with a trial"));
    connect(begin, &QPushButton::clicked, this, &LogPage::begin_trials);
    empty_->body()->addWidget(begin, 0, Qt::AlignLeft);
    auto* look = new QPushButton(tr("Look for something"));
    connect(look, &QPushButton::clicked, this, [this] {
        started_ = document_.identity();
        refresh_page();
        show_view(QStringLiteral("find"));
        find_->words().setFocus();
    });
    empty_->body()->addWidget(look, 0, Qt::AlignLeft);
    empty_->body()->addWidget(make_example_button(), 0, Qt::AlignLeft);
    empty_->body()->addStretch(1);
    set_empty(empty_);
    refresh_page();
}

void LogPage::begin_trials() {
    started_ = document_.identity();
    refresh_page();
    show_view(QStringLiteral("trials"));
    trials_->entry().setFocus();
}

bool LogPage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::log);
}

void LogPage::refresh_page() {
    show_empty(!has_content() && started_ != document_.identity());
    Q_EMIT header_changed();
}

QString LogPage::sentence() const {
    return has_content() ? tr("What did we learn, and what changes next?") : tr("Log");
}

QString LogPage::detail() const {
    const auto& log = *document_.dossier().log;
    if (!has_content()) return tr("Write down the first trial, or what the bench found wrong.");
    long open = 0;
    for (const auto& s : complaint_states(log))
        open += s.verdict == Verdict::stop || s.verdict == Verdict::doubt ? 1 : 0;
    return tr("%1, %2 open, %3")
        .arg(to_q(plural(static_cast<long long>(log.trials.size()), "trial", "trials")),
             to_q(plural(open, "complaint", "complaints")),
             to_q(plural(static_cast<long long>(document_.dossier().units->size()), "unit", "units")));
}

QString LogPage::rail_line() const {
    const auto& log = *document_.dossier().log;
    if (!log.trials.empty())
        return to_q(plural(static_cast<long long>(log.trials.size()), "trial", "trials"));
    return log.complaints.empty()
               ? tr("nothing yet")
               : to_q(plural(static_cast<long long>(log.complaints.size()), "complaint", "complaints"));
}

void LogPage::show_place(const FindingPlace& place) {
    const auto id = to_q(place.id);
    const auto view = id.section(QLatin1Char('/'), 0, 0), thing = id.section(QLatin1Char('/'), 1);
    if (view == QStringLiteral("complaints") || view == QStringLiteral("bodges")) {
        show_view(QStringLiteral("changes"));
        changes_->refresh();
        changes_->select(thing);
    } else if (view == QStringLiteral("cover")) {
        show_view(view);
        cover_->refresh();
        cover_->select(thing);
    } else if (view == QStringLiteral("images")) {
        show_view(QStringLiteral("units"));
        units_->refresh();
        units_->select(thing);
    } else if (view == QStringLiteral("release")) {
        show_view(QStringLiteral("publish"));
    } else {
        show_view(QStringLiteral("trials"));
        trials_->refresh();
        trials_->select(thing);
    }
}

QList<FileKind> LogPage::file_kinds() const {
    return {table_files()};
}

Claim LogPage::claim(const QFileInfo& file) const {
    const auto keys = headings_of(file.filePath());
    const bool outcome = keys.contains(QStringLiteral("outcome"));
    return outcome ? Claim::by_content : Claim::none;
}

void LogPage::take(const QString& path) {
    const bool cover = headings_of(path).contains(QStringLiteral("item"));
    show_view(cover ? QStringLiteral("cover") : QStringLiteral("trials"));
    tell(cover ? cover_->take_file(path) : trials_->take_file(path));
}

}  // namespace grayrelic::app
