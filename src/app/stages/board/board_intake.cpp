// SPDX-License-Identifier: GPL-3.0-or-later
// Files that the page takes: fabrication files, tables of pads and of placements, outlines of cases.
#include <QDir>
#include <QFile>
#include <QStandardPaths>

#include <algorithm>
#include <set>

#include "app/paint/marks.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/stages/board/board_page.hpp"
#include "core/base/file_system.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

constexpr std::size_t most_pads_text = 32U << 20U;

std::string head_of_file_at(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.read(4096).toStdString() : std::string();
}

bool is_table_of_pads(const std::string& head) {
    const auto table = read_table(head.substr(0, head.find('\n')), "head", "a table");
    if (!table) return false;
    const auto keys = heading_keys(table->rows.front());
    const auto has = [&](const char* key) { return std::find(keys.begin(), keys.end(), key) != keys.end(); };
    return has("ref") && has("pin") && has("x_mm") && has("y_mm");
}

bool is_layer(const QString& path) {
    const auto head = head_of_file_at(path);
    return looks_like_gerber(head) || looks_like_drill(head);
}

}  // namespace

QList<FileKind> BoardPage::file_kinds() const {
    return {{tr("Fabrication files, tables of pads, outlines of cases"),
             {QStringLiteral("zip"), QStringLiteral("csv"), QStringLiteral("gbr"), QStringLiteral("drl"),
              QStringLiteral("svg"), QStringLiteral("dxf")}}};
}

Claim BoardPage::claim(const QFileInfo& file) const {
    if (file.isDir()) {
        constexpr int most_looked_at = 200;
        int looked = 0;
        for (const auto& inside : QDir(file.filePath()).entryInfoList(QDir::Files | QDir::NoDotAndDotDot))
            if (++looked > most_looked_at)
                break;
            else if (is_layer(inside.filePath()))
                return Claim::by_content;
        return Claim::none;
    }
    const auto ending = file.suffix().toLower();
    if (ending == QStringLiteral("zip"))
        return head_of_file_at(file.filePath()).starts_with("PK") ? Claim::by_content : Claim::none;
    if (ending == QStringLiteral("svg") || ending == QStringLiteral("dxf")) return Claim::by_content;
    if (ending == QStringLiteral("csv"))
        return is_table_of_pads(head_of_file_at(file.filePath())) ||
                       looks_like_placements(head_of_file_at(file.filePath()))
                   ? Claim::by_content
                   : Claim::none;
    return is_layer(file.filePath()) ? Claim::by_content : Claim::none;
}

void BoardPage::take(const QString& path) {
    const QFileInfo file(path);
    if (file.suffix().toLower() == QStringLiteral("csv")) return take_pads(path);
    if (file.suffix().toLower() == QStringLiteral("svg") || file.suffix().toLower() == QStringLiteral("dxf"))
        return take_outline(file);
    // One layer alone: its folder has the others.
    if (!file.isDir() && file.suffix().toLower() != QStringLiteral("zip")) return bring(file.absolutePath());
    bring(path);
}

/// A folder is packed, so that the dossier holds one file; nothing of it is changed.
void BoardPage::bring(const QString& path) {
    if (path.isEmpty()) return;
    const QFileInfo info(path);
    QString zip = info.absoluteFilePath();
    if (info.isDir()) {
        Status packed;
        const auto folder =
            QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/boards");
        zip = folder + QLatin1Char('/') + info.fileName() + QStringLiteral(".zip");
        const auto ran =
            run_with_progress(this, tr("Packing the fabrication files"), [&](Progress& progress) {
                const auto files = read_packed(path.toStdString(), progress);
                if (!files) return void(packed = fail(files.error()));
                if (files->files.empty())
                    return void(packed = fail_system(path.toStdString(), "no file", "fabrication files"));
                const auto bytes = pack(*files);
                if (!bytes) return void(packed = fail(bytes.error()));
                QDir().mkpath(folder);
                packed = write_atomically(disk(), zip.toStdString(), *bytes);
            });
        if (!ran) packed = ran;
        if (!packed)
            return packed.error().kind == Error::Kind::cancelled ? void()
                                                                 : tell(to_q(packed.error().message()));
    }
    if (!document_.is_open()) files_.make_new();
    if (!document_.is_open()) return;
    const auto& d = document_.dossier();
    Fabrication f;
    f.id = free_id<Fabrication>(d, info.completeBaseName().toStdString());
    f.title = info.completeBaseName().toStdString();
    f.outside = zip.toStdString();
    const auto id = to_q(f.id);
    document_.apply(tr("bring the fabrication files %1").arg(info.fileName()), put(d, std::move(f)));
    boards_->setCurrentIndex(std::max(0, boards_->findData(id)));
    show_view(QStringLiteral("files"));
    show_chosen();
}

void BoardPage::take_pads(const QString& path) {
    if (!has_content())
        return tell(tr("Bring the fabrication files first; the table of pads belongs to them."));
    const auto text = disk().read(path.toStdString(), most_pads_text);
    if (!text) return tell(to_q(text.error().message()));
    if (looks_like_placements(*text)) return take_placements(path, *text);
    const auto pads = read_pads(*text, QFileInfo(path).fileName().toStdString());
    if (!pads) return tell(to_q(pads.error().message()));
    std::vector<FabPad> list;
    for (const auto& p : *pads) list.push_back(fab_pad_of(p));
    document_.apply(tr("pads from %1").arg(QFileInfo(path).fileName()),
                    edit<Fabrication>(document_.dossier(), chosen(), [&](Fabrication& f) { f.pads = list; }));
    show_view(QStringLiteral("against"));
    tell({});
}

/// Where the table puts parts, and their packages are known, their pads are looked for.
void BoardPage::take_placements(const QString& path, const std::string& text) {
    const auto name = QFileInfo(path).fileName();
    const auto placements = read_placements(text, name.toStdString());
    if (!placements) return tell(to_q(placements.error().message()));
    const auto* board = document_.analysis().board ? document_.analysis().board->find(chosen()) : nullptr;
    if (board == nullptr || !board->read->copper)
        return tell(tr("The fabrication files are not read yet; bring the table again in a moment."));
    std::vector<PlacedPart> parts;
    const auto read = board->read;
    const auto ran = run_with_progress(this, tr("Finding the parts' pads"), [&](Progress&) {
        parts = place_parts(read->lands, *placements, board->patterns);
    });
    if (!ran) return;
    std::vector<FabPad> pads;
    std::set<std::string> found;
    QStringList problems;
    for (const auto& p : parts) {
        for (const auto& pad : p.pads) pads.push_back(fab_pad_of(pad));
        if (!p.pads.empty()) found.insert(p.placement.ref);
        if (!p.problem.empty()) problems << to_q(p.placement.ref) + QStringLiteral(": ") + to_q(p.problem);
    }
    if (!pads.empty())
        document_.apply(tr("parts from %1").arg(name),
                        edit<Fabrication>(document_.dossier(), chosen(), [&](Fabrication& f) {
                            std::erase_if(f.pads, [&](const FabPad& p) { return found.count(p.ref) != 0; });
                            f.pads.insert(f.pads.end(), pads.begin(), pads.end());
                        }));
    show_view(QStringLiteral("against"));
    constexpr int most_said = 12;
    const auto more = problems.size() - most_said;
    if (more > 0) problems = problems.mid(0, most_said) << tr("and %1 more").arg(more);
    tell(problems.isEmpty() ? QString()
                            : tr("%1 of %2 parts placed.\n%3")
                                  .arg(found.size())
                                  .arg(parts.size())
                                  .arg(problems.join(QLatin1Char('\n'))));
}

/// The inside of a case, or a panel: kept in the dossier, read beside the window.
void BoardPage::take_outline(const QFileInfo& file) {
    const auto board = need_board();
    if (board.empty()) return;
    FitOutline o;
    std::vector<std::string> taken;
    for (const auto& f : *document_.dossier().boards)
        if (f.id == board)
            for (const auto& each : f.outlines) taken.push_back(each.id);
    o.id = free_id_among(taken, file.completeBaseName().toStdString());
    o.title = file.completeBaseName().toStdString();
    o.outside = file.absoluteFilePath().toStdString();
    document_.apply(
        tr("the outline %1").arg(file.fileName()),
        edit<Fabrication>(document_.dossier(), board, [&](Fabrication& f) { f.outlines.push_back(o); }));
    show_view(QStringLiteral("fit"));
    fit_view_->select(QStringLiteral("case:") + to_q(o.id));
    tell({});
}

}  // namespace grayrelic::app
