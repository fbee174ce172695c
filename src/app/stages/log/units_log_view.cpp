// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/log/units_log_view.hpp"

#include <QDate>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/record/checksum.hpp"
#include "core/record/log_analysis.hpp"

namespace grayrelic::app {
namespace {

enum ImageColumn { image_name_, image_version, image_sum, image_built, image_source, image_on, image_now };

}  // namespace

UnitsLogView::UnitsLogView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), sum_(this) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    auto* top = new QHBoxLayout;
    top->setSpacing(8);
    units_sheet_ = new Sheet(tr("Units"));
    units_ = new BarList(tr("Units"));
    connect(units_, &BarList::chosen, this, &UnitsLogView::fill_events);
    units_sheet_->body()->addWidget(units_, 1);
    place_ = new Field;
    place_->setAccessibleName(tr("Where the unit is now"));
    place_->setPlaceholderText(tr("where it is now"));
    place_->commit = [this](const QString& text) -> std::optional<QString> {
        const auto id = units_->picked().toStdString();
        if (text.trimmed().isEmpty() || id.empty()) return std::nullopt;
        document_.apply(
            tr("where a unit is"), edit(document_.dossier(), &Dossier::log, [&](JobLog& log) {
                log.places.push_back({id, text.trimmed().toStdString(), today().toStdString(), {}});
            }));
        place_->clear();
        place_->show_value({});
        return std::nullopt;
    };
    units_sheet_->body()->addWidget(place_);
    top->addWidget(units_sheet_, 2);
    events_sheet_ = new Sheet(tr("What happened to it"));
    events_ = new FactTable;
    events_->set_columns({{tr("Day"), 96}, {tr("Kind"), 64}, {tr("What"), 320}}, tr("What happened to it"));
    events_sheet_->body()->addWidget(events_, 1);
    top->addWidget(events_sheet_, 3);
    whole->addLayout(top, 3);
    images_sheet_ = new Sheet(tr("Firmware and images"));
    auto* add = compact_button(
        tr("Add a file…"),
        tr("A file that something runs; it is copied in when the dossier is saved, with its sum"));
    connect(add, &QPushButton::clicked, this, [this] {
        const auto path = ask_image();
        if (!path.isEmpty()) take_image(path);
    });
    runs_ =
        compact_button(tr("Runs on this unit"), tr("The chosen image runs on the chosen unit from today"));
    connect(runs_, &QPushButton::clicked, this, &UnitsLogView::run_image);
    images_sheet_->add_to_title(runs_);
    images_sheet_->add_to_title(add);
    images_ = new FactTable;
    images_->set_columns({{tr("Image"), 90, false, true},
                          {tr("Version"), 56, false, true},
                          {tr("SHA-256"), 84},
                          {tr("Built with"), 110, false, true},
                          {tr("Source"), 110, false, true},
                          {tr("Runs on"), 90},
                          {tr("Now"), 170}},
                         tr("Images"));
    connect(images_, &FactTable::edited, this, [this](int row, int column, const QString& text) {
        change_image(images_->key(row).toString(), column, text.trimmed());
    });
    images_sheet_->body()->addWidget(images_, 1);
    whole->addWidget(images_sheet_, 2);
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
    ask_image = [this] { return QFileDialog::getOpenFileName(this, tr("A file that something runs")); };
}

void UnitsLogView::refresh() {
    shown_ = document_.dossier();
    histories_ = unit_histories(shown_);
    std::size_t most = 1;
    for (const auto& h : histories_) most = std::max(most, h.events.size());
    std::vector<BarRow> rows;
    for (const auto& h : histories_) {
        BarRow row;
        row.id = to_q(h.unit->id);
        row.title = to_q(h.unit->name.empty() ? h.unit->id : h.unit->name);
        QStringList about{QString(to_q(word(h.unit->state))).replace(QLatin1Char('-'), QLatin1Char(' '))};
        if (h.unit->revision) about << tr("rev %1").arg(*h.unit->revision);
        if (!h.where.empty()) about << to_q(h.where);
        row.about = about.join(QStringLiteral(" · "));
        row.verdict = is_retired(h.unit->state) || h.trials == 0 ? Verdict::unknown
                      : h.failed > 0                             ? Verdict::doubt
                                                                 : Verdict::holds;
        row.full = static_cast<double>(most);
        row.pieces = {{0, static_cast<double>(h.events.size()), BarPiece::Ink::plain}};
        row.figures = to_q(plural(static_cast<long long>(h.events.size()), "entry", "entries"));
        if (h.trials > 0) row.more = tr("%1 of %2 trials failed").arg(h.failed).arg(h.trials);
        rows.push_back(std::move(row));
    }
    units_sheet_->set_about(rows.empty() ? tr("No unit yet: they are added in Plan, Units.") : QString());
    const bool first = units_->count() == 0;
    units_->show_rows(std::move(rows));
    if (first) {  // the one that there is most to read of
        const auto fullest =
            std::max_element(histories_.begin(), histories_.end(),
                             [](const auto& a, const auto& b) { return a.events.size() < b.events.size(); });
        if (fullest != histories_.end()) units_->pick(to_q(fullest->unit->id));
    }
    fill_events();
    fill_images();
}

void UnitsLogView::fill_events() {
    const auto id = units_->picked().toStdString();
    std::vector<TableRow> rows;
    QString about;
    for (const auto& h : histories_) {
        if (h.unit->id != id) continue;
        for (const auto& e : h.events) {
            TableCell day(to_q(e.day));
            day.sort = static_cast<double>(rows.size());
            rows.push_back({day, to_q(e.kind), to_q(e.says)});
        }
        QStringList words;
        if (h.minutes > 0) words << tr("%1 h of work").arg(h.minutes / 60, 0, 'f', 1);
        if (h.reflows > 0) words << to_q(plural(h.reflows, "reflow", "reflows"));
        if (h.joints_before_reflow > 0)
            words << tr("%1 readings were taken before the last reflow and prove nothing now")
                         .arg(h.joints_before_reflow);
        about = words.join(QStringLiteral(" · "));
    }
    events_sheet_->set_about(about, true);
    events_->set_rows(std::move(rows));
}

void UnitsLogView::fill_images() {
    std::vector<TableRow> rows;
    const auto& log = document_.analysis().log;
    for (const auto& s : image_states(shown_, log->sums)) {
        TableCell name(to_q(s.image->name.empty() ? s.image->id : s.image->name));
        name.key = to_q(s.image->id);
        name.icon = verdict_icon(s.verdict);
        TableCell sum(to_q(s.image->sha256.substr(0, 12)));
        sum.tip = to_q(s.image->sha256);
        QStringList units;
        for (const auto& u : s.units) units << to_q(u);
        const auto problem = log->problems.find(s.image->id);
        TableCell now(problem != log->problems.end() ? to_q(problem->second) : to_q(s.says));
        if (!s.trials.empty())
            now.tip =
                now.text + tr("\n%1 used it")
                               .arg(to_q(plural(static_cast<long long>(s.trials.size()), "trial", "trials")));
        rows.push_back({name, to_q(s.image->version), sum, to_q(s.image->built_with), to_q(s.image->source),
                        units.join(QStringLiteral(", ")), now});
    }
    images_sheet_->set_about(
        rows.empty() ? tr("No image yet. A trial that does not say which firmware ran can't be repeated.")
                     : QString());
    images_->set_rows(std::move(rows));
    runs_->setEnabled(images_->row_count() > 0 && units_->count() > 0);
}

void UnitsLogView::select(const QString& thing) {
    units_->pick(thing);
    fill_events();
    for (int row = 0; row < images_->row_count(); ++row)
        if (images_->key(row).toString() == thing) images_->choose(row);
}

void UnitsLogView::run_image() {
    const int row = std::max(0, images_->chosen());
    const auto image = images_->key(row).toString().toStdString(), unit = units_->picked().toStdString();
    if (image.empty() || unit.empty()) return;
    document_.apply(tr("an image on a unit"), edit(document_.dossier(), &Dossier::log, [&](JobLog& log) {
                        log.runs.push_back({image, unit, today().toStdString()});
                    }));
}

void UnitsLogView::change_image(const QString& id, int column, const QString& text) {
    document_.apply(tr("image %1").arg(id),
                    edit<ImageFile>(document_.dossier(), id.toStdString(), [&](ImageFile& i) {
                        const auto said = text.toStdString();
                        if (column == image_name_) i.name = said;
                        if (column == image_version) i.version = said;
                        if (column == image_built) i.built_with = said;
                        if (column == image_source) i.source = said;
                    }));
    refresh();
}

void UnitsLogView::take_image(const QString& path) {
    const auto file = path.toStdString();
    sum_.ask([file](Progress& progress) { return sha256_of_file(file, progress); },
             [this, path](const Result<std::string>& sum) {
                 if (!sum) return images_sheet_->set_about(to_q(sum.error().message()), true);
                 const QFileInfo info(path);
                 ImageFile image;
                 image.id = free_id<ImageFile>(document_.dossier(), "image-1");
                 image.name = info.fileName().toStdString();
                 image.outside = info.absoluteFilePath().toStdString();
                 image.sha256 = *sum;
                 image.day = today().toStdString();
                 document_.apply(tr("an image"), put(document_.dossier(), std::move(image)));
             });
}

}  // namespace grayrelic::app
