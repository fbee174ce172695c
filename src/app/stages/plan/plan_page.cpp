// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/plan_page.hpp"

#include <QFile>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QRegularExpression>

#include <map>

#include "app/paint/marks.hpp"
#include "app/shell/busy_dialog.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/dossier/store.hpp"
#include "core/plan/take_relic.hpp"

namespace grayrelic::app {
namespace {

/// The words of a table's first line.
QStringList heading_of(const std::string& text) {
    const auto head =
        QString::fromStdString(text.substr(0, std::min<std::size_t>(text.find('\n'), 4096))).toLower();
    static const QRegularExpression between(QStringLiteral("[,;\\t\\s]+"));
    return head.split(between);
}

}  // namespace

PlanPage::PlanPage(const StageContext& context)
    : TabbedPage(Stage::plan, context.document, Rests::about | Rests::supply),
      document_(context.document),
      files_(context.files),
      outlook_(context.document) {
    ask_open = [this](const QString& title) {
        return QFileDialog::getOpenFileName(this, title, {}, dialog_filter(table_files()));
    };
    ask_save = [this](const QString& title, const QString& name) {
        return QFileDialog::getSaveFileName(this, title, name, dialog_filter(table_files()));
    };
    ask_dossier = [this] { return QFileDialog::getExistingDirectory(this, tr("Another dossier")); };
    ask_port = [this](const QStringList& ports) {
        bool fine = false;
        const auto port =
            QInputDialog::getItem(this, tr("Take a machine's side"), tr("Port"), ports, 0, false, &fine);
        return fine ? port : QString();
    };
    add_views();
    connect_files();
    refresh_page();
}

QWidget* PlanPage::make_job() {
    auto* sheet = new QWidget;
    auto* grid = new QGridLayout(sheet);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    const auto add = [&](int row, int column, const QString& label, const QString& tip,
                         std::optional<QString> (*take)(Dossier&, const QString&)) {
        auto* field = new Field;
        field->setAccessibleName(label);
        field->setToolTip(tip);
        field->commit = [this, label, take](const QString& text) -> std::optional<QString> {
            auto next = document_.dossier();
            if (auto problem = take(next, text.trimmed())) return problem;
            if (!(next == document_.dossier())) document_.apply(label.toLower(), std::move(next));
            return std::nullopt;
        };
        auto* said = secondary_label(label);
        said->setBuddy(field);
        grid->addWidget(said, row, column * 2);
        grid->addWidget(field, row, column * 2 + 1);
        return field;
    };
    const auto about = []<std::string About::*Member>() {
        return [](Dossier& d, const QString& t) -> std::optional<QString> {
            if (Member == &About::name && t.isEmpty()) return tr("Expected a name.");
            d = edit(d, &Dossier::about, [&](About& a) { a.*Member = t.toStdString(); });
            return std::nullopt;
        };
    };
    name_ = add(0, 0, tr("Job"), tr("What the dossier is called"), about.operator()<&About::name>());
    purpose_ =
        add(0, 1, tr("Purpose"), tr("What it is for, in a sentence"), about.operator()<&About::purpose>());
    revision_ = add(0, 2, tr("Revision"), tr("Of the bridge"),
                    [](Dossier& d, const QString& t) -> std::optional<QString> {
                        bool fine = false;
                        const int n = t.toInt(&fine);
                        if (!fine || n < 1 || n > 1'000'000'000)
                            return tr("Expected a whole number, 1 or more.");
                        d = edit(d, &Dossier::about, [&](About& a) { a.revision = n; });
                        return std::nullopt;
                    });
    relic_ = add(1, 0, tr("Relic side"), tr("The old machine or board: Calder 2, control port"),
                 about.operator()<&About::relic>());
    modern_ =
        add(1, 1, tr("Modern side"), tr("What meets it: a USB pad"), about.operator()<&About::modern>());
    boards_ = add(1, 2, tr("To build"), tr("How many boards; the parts list counts with it"),
                  [](Dossier& d, const QString& t) -> std::optional<QString> {
                      bool fine = false;
                      const int n = t.toInt(&fine);
                      if (!fine || n < 0 || n > 100'000) return tr("Expected a whole number, 0 or more.");
                      d = edit(d, &Dossier::supply, [&](Supply& s) { s.boards = n; });
                      return std::nullopt;
                  });
    revision_->setFixedWidth(60);
    boards_->setFixedWidth(60);
    grid->setColumnStretch(1, 2);
    grid->setColumnStretch(3, 3);
    return sheet;
}

void PlanPage::add_views() {
    const auto pad = QStringLiteral("calder-dial-pad");
    constexpr unsigned all = ~0U;
    schedule_ = new JobSchedule(document_, outlook_);
    schedule_->setParent(this);
    example_ = make_example_button();
    next_ = new NextView(document_, outlook_, *schedule_, example_);
    job_ = new JobView(document_, outlook_, make_job());
    calendar_ = new CalendarView(document_, outlook_, *schedule_);
    ways_ = new WaysView(document_, outlook_);
    drawer_ = new DrawerView(document_);
    add_view({QStringLiteral("next"), tr("Next"), Picture::day, pad}, next_, all,
             [this] { next_->refresh(); });
    add_view({QStringLiteral("job"), tr("Job"), Picture::none, pad}, job_, all, [this] { job_->refresh(); });
    add_view({QStringLiteral("calendar"), tr("Calendar"), Picture::none, pad}, calendar_, all,
             [this] { calendar_->refresh(); });
    add_view({QStringLiteral("ways"), tr("Ways"), Picture::none, pad}, ways_, all,
             [this] { ways_->refresh(); });
    supply_ = new SupplyView(document_);
    units_ = new UnitsView(document_);
    dimensions_ = new DimensionsView(document_);
    bench_ = new BenchView(document_);
    cautions_ = new CautionsView(document_);
    supply_->tell = [this](const QString& text) { tell(text); };
    add_view({QStringLiteral("parts"), tr("Parts"), Picture::night, pad}, supply_,
             Rests::supply | Rests::timing | Rests::person | Rests::plan_analysis,
             [this] { supply_->refresh(); });
    add_view({QStringLiteral("units"), tr("Units"), Picture::none, pad}, units_,
             Rests::units | Rests::readings | Rests::captures | Rests::trace | Rests::dimensions |
                 Rests::trace_analysis,
             [this] { units_->refresh(); });
    add_view({QStringLiteral("dimensions"), tr("Dimensions"), Picture::none, pad}, dimensions_,
             Rests::dimensions | Rests::units, [this] { dimensions_->refresh(); });
    add_view({QStringLiteral("bench"), tr("Bench"), Picture::none, pad}, bench_,
             Rests::person | Rests::ports | Rests::listen_analysis, [this] { bench_->refresh(); });
    add_view({QStringLiteral("drawer"), tr("Drawer"), Picture::none, pad}, drawer_,
             Rests::person | Rests::plan_analysis, [this] { drawer_->refresh(); });
    add_view({QStringLiteral("cautions"), tr("Cautions"), Picture::none, pad}, cautions_,
             Rests::ports | Rests::units | Rests::supply | Rests::trace | Rests::data | Rests::person |
                 Rests::plan,
             [this] { cautions_->refresh(); });
}

void PlanPage::connect_files() {
    auto* side = new QPushButton(tr("Take a machine's side…"));
    side->setToolTip(tr("A port with its captures, units and contract from another dossier"));
    connect(side, &QPushButton::clicked, this, &PlanPage::take_side_with_dialog);
    add_beside_tabs(side);
    connect(next_, &NextView::place_wanted, this, [this](Stage stage, const FindingPlace& place) {
        if (stage == Stage::plan)
            show_place(place);
        else
            Q_EMIT place_wanted(stage, place);
    });
    connect(next_, &NextView::kind_chosen, this, &PlanPage::begin_kind);
    connect(next_, &NextView::open_wanted, this, [this] { files_.open_with_dialog(); });
    connect(next_, &NextView::sheet_wanted, this,
            [this](const QString& question) { tell(files_.write_sheet_about(question)); });
    connect(next_, &NextView::view_wanted, this, [this](const QString& id) { show_view(id); });
    connect(calendar_, &CalendarView::table_in_wanted, this, [this] {
        if (const auto path = ask_open(tr("Read tasks")); !path.isEmpty()) take(path);
    });
    connect(calendar_, &CalendarView::table_out_wanted, this, [this] {
        const auto path = ask_save(tr("Write tasks"), QStringLiteral("tasks.csv"));
        if (!path.isEmpty()) write(path, tasks_to_csv(outlook_.now().tasks));
    });
    connect(drawer_, &DrawerView::table_in_wanted, this, [this] {
        if (const auto path = ask_open(tr("Read a drawer")); !path.isEmpty()) take(path);
    });
    connect(drawer_, &DrawerView::table_out_wanted, this, [this] {
        const auto path = ask_save(tr("Write the drawer"), QStringLiteral("drawer.csv"));
        if (!path.isEmpty()) write(path, drawer_to_csv(document_.person().drawer));
    });
    connect(supply_, &SupplyView::table_in_wanted, this, [this] {
        if (const auto path = ask_open(tr("Read parts or a drawer")); !path.isEmpty()) take(path);
    });
    connect(supply_, &SupplyView::parts_out_wanted, this, [this] {
        const auto path = ask_save(tr("Write the parts list"), QStringLiteral("parts.csv"));
        if (!path.isEmpty())
            write(path, parts_to_csv(document_.analysis().plan->parts, document_.dossier().supply->parts));
    });
    connect(supply_, &SupplyView::drawer_out_wanted, this, [this] {
        const auto path = ask_save(tr("Write the drawer"), QStringLiteral("drawer.csv"));
        if (!path.isEmpty()) write(path, drawer_to_csv(document_.person().drawer));
    });
    connect(&document_, &Document::person_changed, this, [this] { look_anew(); });
    // Findings are no version that a view rests on, but gates and questions come from them.
    connect(&document_, &Document::analysed, this, [this] {
        if (isVisible() && outlook_.is_stale()) look_anew();
    });
}

void PlanPage::write(const QString& path, const std::string& text) {
    const auto written = write_atomically(disk(), path.toStdString(), text);
    tell(written ? tr("Written to %1.").arg(path) : to_q(written.error().message()));
}

Result<Dossier> PlanPage::load_other(const QString& folder) {
    Result<Dossier> from = fail_cancelled();
    const auto ran = run_with_progress(
        this, tr("Opening"), [&](Progress&) { from = load_dossier(dossier_folder(folder.toStdString())); });
    if (!ran) return fail(ran.error());
    return from;
}

QString PlanPage::take_side_from(const QString& folder, const QString& port) {
    const auto from_folder = dossier_folder(folder.toStdString());
    const auto from = load_other(folder);
    if (!from) return to_q(from.error().message());
    auto taken =
        take_side(*from, std::filesystem::absolute(from_folder), port.toStdString(), document_.dossier());
    if (!taken) return to_q(taken.error().message());
    document_.apply(tr("side of %1").arg(to_q(from->about->name)), std::move(taken->dossier));
    return tr("Port %1 with %2, %3 and %4 from “%5”.")
        .arg(to_q(taken->port), to_q(plural(taken->captures, "capture", "captures")),
             to_q(plural(taken->intervals, "interval of the contract", "intervals of the contract")),
             to_q(plural(taken->units, "unit", "units")), to_q(from->about->name));
}

void PlanPage::take_side_with_dialog() {
    const auto folder = ask_dossier();
    if (folder.isEmpty()) return;
    const auto from = load_other(folder);
    if (!from) return tell(to_q(from.error().message()));
    QStringList ports;
    for (const auto& p : *from->ports) ports << to_q(p.id);
    if (ports.isEmpty()) return tell(tr("“%1” has no port.").arg(to_q(from->about->name)));
    const auto port = ports.size() == 1 ? ports.front() : ask_port(ports);
    if (!port.isEmpty()) tell(take_side_from(folder, port));
}

void PlanPage::refresh_page() {
    const auto& d = document_.dossier();
    name_->show_value(to_q(d.about->name));
    purpose_->show_value(to_q(d.about->purpose));
    revision_->show_value(QString::number(d.about->revision));
    relic_->show_value(to_q(d.about->relic));
    modern_->show_value(to_q(d.about->modern));
    boards_->show_value(QString::number(d.supply->boards));
}

Field* PlanPage::job_field(const QString& name) const {
    for (auto* f : {name_, purpose_, revision_, relic_, modern_, boards_})
        if (f->accessibleName() == name) return f;
    return nullptr;
}

bool PlanPage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::plan);
}

QString PlanPage::sentence() const {
    if (!document_.is_open()) return tr("No dossier yet");
    if (is_planned()) return to_q(outlook_.now().sentence);
    const auto& list = document_.analysis().plan->parts;
    std::map<PartState, int> many;
    for (const auto& r : list.rows) ++many[r.state];
    if (list.rows.empty()) return tr("The job, its boards and its bench");
    if (many[PartState::undecided] > 0)
        return tr("%1 not to be ordered yet")
            .arg(to_q(plural(many[PartState::undecided], "part is", "parts are")));
    if (many[PartState::order] > 0)
        return tr("%1 to order").arg(to_q(plural(many[PartState::order], "part", "parts")));
    if (!list.gaps.empty()) return tr("Parts may be missing from the list");
    return many[PartState::ordered] > 0 ? tr("All parts are here or on their way") : tr("All parts are here");
}

QString PlanPage::detail() const {
    const auto& d = document_.dossier();
    if (!document_.is_open()) return tr("Open or begin one; the bench is yours without any.");
    if (is_planned()) {
        QStringList out;
        if (const auto* kind = document_.data().jobs.find(d.plan->kind)) out << to_q(kind->name);
        if (d.plan->host == HostSide::relic) out << tr("host: the relic side");
        if (d.plan->host == HostSide::modern) out << tr("host: the modern side");
        out << tr("%1 to build").arg(d.supply->boards);
        if (d.plan->reversible == Reversible::yes) out << tr("reversible");
        if (d.plan->reversible == Reversible::no) out << tr("not reversible");
        return out.join(QStringLiteral(" · "));
    }
    return tr("%1, %2, %3")
        .arg(to_q(plural(static_cast<long long>(document_.analysis().plan->parts.rows.size()), "part",
                         "parts")),
             to_q(plural(static_cast<long long>(d.units->size()), "unit", "units")),
             to_q(plural(static_cast<long long>(d.dimensions->size()), "dimension", "dimensions")));
}

QString PlanPage::rail_line() const {
    return {};  // the rail says which dossier it is, and whether it is saved
}

void PlanPage::show_place(const FindingPlace& place) {
    const auto id = to_q(place.id);
    if (place.kind == "part") {
        show_view(QStringLiteral("parts"));
        supply_->show_part(id);
    } else if (place.kind == "order") {
        show_view(QStringLiteral("parts"));
        supply_->show_order(id);
    } else if (place.kind == "question") {
        show_view(QStringLiteral("next"));
        next_->show_question(id);
    } else if (place.kind == "must") {
        show_view(QStringLiteral("job"));
        job_->show_must(id);
    } else if (place.kind == "job") {
        show_view(QStringLiteral("job"));
        if (auto* field = job_field(id)) field->setFocus();
    } else if (place.kind == "task") {
        show_view(QStringLiteral("calendar"));
    } else if (place.kind == "way") {
        show_view(QStringLiteral("ways"));
        ways_->show_way(id);
    } else if (place.kind == "unit") {
        show_view(QStringLiteral("units"));
        units_->show_unit(id);
    } else if (place.kind == "dimension") {
        show_view(QStringLiteral("dimensions"));
        dimensions_->show_dimension(id);
    } else {
        show_view(QStringLiteral("bench"));
    }
}

QList<FileKind> PlanPage::file_kinds() const {
    return {table_files()};
}

/// A table with a column part, and no points or nets.
Claim PlanPage::claim(const QFileInfo& file) const {
    if (file.suffix().toLower() != QLatin1String("csv")) return Claim::none;
    QFile in(file.absoluteFilePath());
    if (!in.open(QIODevice::ReadOnly)) return Claim::none;
    const auto columns = heading_of(in.readLine(4096).toStdString());
    if (columns.contains(QStringLiteral("task")) && columns.contains(QStringLiteral("likely_h")))
        return Claim::by_content;
    const bool list =
        columns.contains(QStringLiteral("part")) &&
        (columns.contains(QStringLiteral("count")) || columns.contains(QStringLiteral("per_board")) ||
         columns.contains(QStringLiteral("supplier")) || columns.contains(QStringLiteral("kind")));
    return list ? Claim::by_content : Claim::none;
}

void PlanPage::take(const QString& path) {
    const auto text = disk().read(path.toStdString(), most_person_bytes);
    if (!text) return tell(to_q(text.error().message()));
    const bool tasks = heading_of(*text).contains(QStringLiteral("task"));
    show_view(tasks ? QStringLiteral("calendar") : QStringLiteral("parts"));
    tell(tasks ? calendar_->take_table(*text, path) : supply_->take_table(*text, path));
}

}  // namespace grayrelic::app
