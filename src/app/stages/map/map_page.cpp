// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/map_page.hpp"

#include <QFile>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "core/base/file_system.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/input/map_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr std::size_t most_content = 64U << 20U;

/// What a table is, by its headings.
enum class MapFile { none, keys, probes, moves, curve, edited_map, bytes };

/// A descriptor begins with a usage page; records of a memory's image with a colon, and are not for here.
bool begins_as_descriptor(const std::string& head) {
    return head.size() > 4 && (static_cast<unsigned char>(head[0]) & 0xFCU) == 0x04U &&
           head.find('\xA1') != std::string::npos;
}

MapFile kind_of(const std::string& head, const QString& ending) {
    if (ending == QStringLiteral("bin")) return begins_as_descriptor(head) ? MapFile::bytes : MapFile::none;
    if (ending == QStringLiteral("hex"))
        return head.starts_with(':') || head.find("\n:") != std::string::npos ? MapFile::none
                                                                              : MapFile::bytes;
    if (ending == QStringLiteral("json"))
        return head.find("\"entries\"") != std::string::npos ? MapFile::edited_map : MapFile::none;
    const auto line = head.substr(0, head.find('\n'));
    const auto table = read_table(line, "head", "a table");
    if (!table) return MapFile::none;
    const auto keys = heading_keys(table->rows.front());
    const auto has = [&](const char* key) { return std::find(keys.begin(), keys.end(), key) != keys.end(); };
    if (has("key") && has("a") && has("b")) return MapFile::probes;
    if (has("counts")) return MapFile::moves;
    if (has("out") && has("speed")) return MapFile::curve;
    if (has("code") && has("meaning") && !has("x")) return MapFile::edited_map;
    if ((has("key") || has("legend")) && (has("row") || has("code") || has("x"))) return MapFile::keys;
    return MapFile::none;
}

std::string head_of(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.read(4096).toStdString() : std::string();
}

}  // namespace

MapPage::MapPage(const StageContext& context)
    : TabbedPage(Stage::map, context.document, Rests::map | Rests::map_analysis),
      document_(context.document),
      files_(context.files) {
    const unsigned all = Rests::map | Rests::map_analysis | Rests::data | Rests::about;
    constexpr int scrolls_under = 520;
    device_ = new DeviceView(document_);
    coverage_ = new CoverageView(document_);
    reports_ = new ReportsView(document_);
    matrix_ = new MatrixView(document_);
    movement_ = new MovementView(document_);
    tables_ = new TablesView(document_);
    const auto keypad = QStringLiteral("calder-counter-keypad");
    add_view(
        {QStringLiteral("device"), tr("Device"), Picture::day, keypad}, device_, all,
        [this] { device_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("coverage"), tr("Coverage")}, coverage_, all, [this] { coverage_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("reports"), tr("Reports")}, reports_, all, [this] { reports_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("matrix"), tr("Matrix"), Picture::night, keypad}, matrix_,
        all | Rests::captures | Rests::listen_analysis, [this] { matrix_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("movement"), tr("Movement")}, movement_, all, [this] { movement_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("tables"), tr("Tables")}, tables_, all, [this] { tables_->refresh(); },
        scrolls_under);
    connect(coverage_, &CoverageView::key_wanted, this, &MapPage::show_key);
    connect(matrix_, &MatrixView::key_wanted, this, &MapPage::show_key);
    empty_ = new Sheet(tr("No old key yet"));
    empty_->set_about(
        tr("Walk along the old device and type its keys, row by row, or drop a table of them (key, code, "
           "row, column). Each code then gets what it becomes, and what is missing on either side is said."),
        true);
    auto* begin = new QPushButton(tr("Begin with the keys"));
    connect(begin, &QPushButton::clicked, this, [this] {
        start();
        show_view(QStringLiteral("device"));
        device_->begin();
    });
    empty_->body()->addWidget(begin, 0, Qt::AlignLeft);
    auto* curve = new QPushButton(tr("Begin with a movement"));
    connect(curve, &QPushButton::clicked, this, [this] {
        start();
        show_view(QStringLiteral("movement"));
    });
    empty_->body()->addWidget(curve, 0, Qt::AlignLeft);
    empty_->body()->addWidget(make_example_button(), 0, Qt::AlignLeft);
    empty_->body()->addStretch(1);
    set_empty(empty_);
    refresh_page();
}

void MapPage::refresh_page() {
    show_empty(!has_content() && started_ != document_.identity());
}

void MapPage::start() {
    if (!document_.is_open()) files_.make_new();
    if (document_.is_open()) started_ = document_.identity();
    refresh_page();
}

QString MapPage::sentence() const {
    return has_content() ? tr("What does each old code become?") : tr("Map");
}

QString MapPage::detail() const {
    const auto& a = document_.analysis().map;
    if (!has_content() || !a) return {};
    const auto& c = a->coverage;
    if (c.codes == 0 && !document_.dossier().map->curves.empty())
        return to_q(plural(std::ssize(document_.dossier().map->curves), "curve", "curves"));
    auto out = tr("%1 of %2 codes").arg(c.codes_with_meaning).arg(c.codes);
    if (a->matrix)
        out += tr(" · %1 × %2").arg(a->matrix->model.rows.size()).arg(a->matrix->model.columns.size());
    return out;
}

QString MapPage::rail_line() const {
    const auto& a = document_.analysis().map;
    if (!a) return tr("computing …");
    const auto& c = a->coverage;
    if (c.codes == 0)
        return document_.dossier().map->curves.empty()
                   ? tr("no code known yet")
                   : to_q(plural(std::ssize(document_.dossier().map->curves), "curve", "curves"));
    return tr("%1 of %2 codes").arg(c.codes_with_meaning).arg(c.codes);
}

bool MapPage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::map);
}

void MapPage::show_key(const QString& id) {
    show_view(QStringLiteral("device"));
    device_->select(id);
}

void MapPage::show_place(const FindingPlace& place) {
    const auto id = to_q(place.id);
    if (place.kind == "key") return show_key(id);
    if (place.kind == "matrix") return show_view(QStringLiteral("matrix"));
    if (place.kind == "curve") {
        show_view(QStringLiteral("movement"));
        return movement_->select(id);
    }
    show_view(QStringLiteral("coverage"));
    coverage_->select(id);
}

QList<FileKind> MapPage::file_kinds() const {
    return {{tr("Keys, movements, curves, descriptors, reports, maps"),
             {QStringLiteral("csv"), QStringLiteral("json"), QStringLiteral("bin"), QStringLiteral("hex")}}};
}

Claim MapPage::claim(const QFileInfo& file) const {
    const auto ending = file.suffix().toLower();
    if (!file_kinds().front().endings.contains(ending)) return Claim::none;
    return kind_of(head_of(file.filePath()), ending) == MapFile::none ? Claim::none : Claim::by_content;
}

void MapPage::take(const QString& path) {
    const QFileInfo file(path);
    const auto content = disk().read(path.toStdString(), most_content);
    if (!content) return tell(to_q(content.error().message()));
    start();
    switch (kind_of(content->substr(0, 4096), file.suffix().toLower())) {
        case MapFile::keys:
            show_view(QStringLiteral("device"));
            return tell(device_->take_table(*content, file.fileName()));
        case MapFile::probes:
            show_view(QStringLiteral("matrix"));
            return tell(matrix_->take_probes(*content, file.fileName()));
        case MapFile::moves:
        case MapFile::curve:
            show_view(QStringLiteral("movement"));
            return tell(movement_->take_file(*content, file.fileName()));
        case MapFile::edited_map:
            show_view(QStringLiteral("tables"));
            return tell(tables_->take_file(*content, file.fileName()));
        default:
            show_view(QStringLiteral("reports"));
            return tell(reports_->take_file(*content, file.fileName()));
    }
}

}  // namespace grayrelic::app
