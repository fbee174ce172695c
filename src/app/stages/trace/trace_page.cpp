// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/trace/trace_page.hpp"

#include <QEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/trace/ledger.hpp"
#include "core/trace/netlist.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

constexpr std::size_t most_table_bytes = 64U << 20U;
/// A longer table is not looked into to find out what it is.
constexpr std::size_t most_claimed_bytes = 4U << 20U;

TracePage::TracePage(const StageContext& context)
    : TabbedPage(Stage::trace, context.document, Rests::trace | Rests::readings),
      document_(context.document) {
    example_ = make_example_button();
    add_beside_tabs(example_);
    add_views();
    connect_files();
    refresh_page();
}

void TracePage::add_views() {
    const auto board_card = QStringLiteral("calder-page-card");
    const unsigned all = Rests::trace | Rests::readings | Rests::ports | Rests::units | Rests::data |
                         Rests::person | Rests::trace_analysis;
    probe_ = new ProbeView(document_);
    board_ = new BoardView(document_);
    netlist_ = new NetlistView(document_);
    circuit_ = new CircuitView(document_);
    parts_ = new PartsView(document_);
    add_view({QStringLiteral("probe"), tr("Probe"), Picture::day, board_card}, probe_, all,
             [this] { probe_->refresh(); });
    add_view({QStringLiteral("board"), tr("Board"), Picture::night, board_card}, board_, all,
             [this] { board_->refresh(); });
    add_view({QStringLiteral("netlist"), tr("Netlist"), Picture::none, board_card}, netlist_, all,
             [this] { netlist_->refresh(); });
    add_view({QStringLiteral("circuit"), tr("Circuit"), Picture::none, board_card}, circuit_, all,
             [this] { circuit_->refresh(); });
    add_view({QStringLiteral("parts"), tr("Parts"), Picture::none, board_card}, parts_, all,
             [this] { parts_->refresh(); });
}

void TracePage::connect_files() {
    ask_open = [this](const QString& title, const QString& kinds) {
        return QFileDialog::getOpenFileName(this, title, {}, kinds);
    };
    ask_save = [this](const QString& title, const QString& name, const QString& kinds) {
        return QFileDialog::getSaveFileName(this, title, name, kinds);
    };
    connect(probe_, &ProbeView::ledger_in_wanted, this, [this] { load(tr("Read a ledger")); });
    connect(probe_, &ProbeView::ledger_out_wanted, this, [this] {
        write(tr("Write the ledger"), QStringLiteral("ledger.csv"), tr("Tables (*.csv)"),
              [this](const QString& path) {
                  const auto text =
                      write_ledger(*document_.dossier().readings, document_.dossier().trace->aliases);
                  const auto done = write_atomically(disk(), path.toStdString(), text);
                  return done ? QString() : to_q(done.error().message());
              });
    });
    connect(netlist_, &NetlistView::load_wanted, this, [this] { load(tr("Load a netlist")); });
    connect(netlist_, &NetlistView::write_wanted, this, [this] {
        write(tr("Write the recovered netlist"), QStringLiteral("nets.csv"),
              tr("Tables (*.csv);;IPC-D-356A (*.ipc)"), [this](const QString& path) {
                  const auto& t = document_.analysis().trace;
                  if (!t || t->empty()) return tr("There are no nets yet.");
                  std::vector<NetlistPoint> places;
                  for (std::size_t p = 0; p < t->view->board.points.size(); ++p)
                      if (const auto& at = t->view->board.points[p].place)
                          places.push_back({t->name(static_cast<int>(p)), at->x_mm, at->y_mm});
                  const auto nets = recovered_nets(*t);
                  const auto done =
                      write_atomically(disk(), path.toStdString(),
                                       path.endsWith(QStringLiteral(".ipc"))
                                           ? write_ipc_d_356a(nets, places, document_.dossier().about->name)
                                           : write_net_csv(nets));
                  return done ? QString() : to_q(done.error().message());
              });
    });
    connect(circuit_, &CircuitView::write_wanted, this, [this] {
        write(tr("Write the circuit sheets"), QStringLiteral("circuit.pdf"),
              tr("PDF (*.pdf);;SVG (*.svg);;PNG (*.png)"),
              [this](const QString& path) { return circuit_->write_to(path); });
    });
    connect(board_, &BoardView::export_wanted, this, [this] {
        write(tr("Write outline, pads and holes"), QStringLiteral("board.svg"),
              tr("SVG (*.svg);;Tables (*.csv)"), [this](const QString& path) {
                  return board_->write_to(path)
                             ? QString()
                             : tr("No scan has been read, or %1 can't be written.").arg(path);
              });
    });
    connect(board_, &BoardView::scan_wanted, this, [this](BoardSide side) {
        const auto path = ask_open(tr("A scan of the copper"), dialog_filter(picture_files()));
        if (!path.isEmpty()) board_->add_scan(path, side);
    });
    connect(&board_->canvas(), &BoardCanvas::picked, probe_,
            [this](const QString& point) { probe_->pick_point(point); });
}

void TracePage::view_changed() {
    if (view() == QLatin1String("probe") && isVisible()) probe_->setFocus();
}

void TracePage::begin() {
    if (view() != QLatin1String("probe")) return TabbedPage::begin();
    probe_->setFocus();
}

QList<FileKind> TracePage::file_kinds() const {
    return {picture_files(), {tr("Netlists"), {QStringLiteral("ipc"), QStringLiteral("356")}}};
}

Claim TracePage::claim(const QFileInfo& file) const {
    if (const auto sure = StagePage::claim(file); sure != Claim::none) return sure;
    if (!table_files().endings.contains(file.suffix().toLower())) return Claim::none;
    const auto text = disk().read(file.absoluteFilePath().toStdString(), most_claimed_bytes);
    if (!text) return Claim::none;
    return read_ledger(*text, {}) || read_net_csv(*text, {}) ? Claim::by_content : Claim::none;
}

void TracePage::take(const QString& path) {
    if (picture_files().endings.contains(QFileInfo(path).suffix().toLower())) return add_scan(path);
    read_table(path);
}

void TracePage::load(const QString& title) {
    auto kind = table_files();
    kind.title = tr("Tables and netlists");
    kind.endings << file_kinds().back().endings;
    const auto path = ask_open(title, dialog_filter(kind) + tr(";;All files (*)"));
    if (!path.isEmpty()) read_table(path);
}

void TracePage::read_table(const QString& path) {
    const auto text = disk().read(path.toStdString(), most_table_bytes);
    if (!text) return tell(to_q(text.error().message()));
    take_table(*text, QFileInfo(path).fileName());
}

void TracePage::write(const QString& title, const QString& name, const QString& kinds,
                      const std::function<QString(const QString&)>& how) {
    const auto path = ask_save(title, name, kinds);
    if (path.isEmpty()) return;
    const auto problem = how(path);
    tell(problem.isEmpty() ? tr("%1 written.").arg(path) : problem);
}

void TracePage::take_table(const std::string& text, const QString& name) {
    // A ledger has readings, a netlist has nets; the error of the likelier one is told.
    const bool ledger_like = text.substr(0, text.find('\n')).find("reading") != std::string::npos;
    auto ledger = read_ledger(text, name.toStdString());
    if (ledger) {
        const auto n = ledger->readings.size();
        auto next = add_readings(document_.dossier(), std::move(ledger->readings));
        if (!ledger->aliases.empty())
            next = edit(next, &Dossier::trace, [&](Trace& t) {
                t.aliases.insert(t.aliases.end(), ledger->aliases.begin(), ledger->aliases.end());
            });
        document_.apply(tr("ledger %1").arg(name), std::move(next));
        show_view(QStringLiteral("probe"));
        return tell(tr("%1 from %2 added.")
                        .arg(to_q(plural(static_cast<long long>(n), "reading", "readings")), name));
    }
    if (ledger_like) return tell(to_q(ledger.error().message()));
    const auto problem = netlist_->take_netlist(text, name);
    if (!problem.isEmpty()) return tell(problem);
    show_view(QStringLiteral("netlist"));
    tell(tr("%1 loaded.").arg(name));
}

void TracePage::add_scan(const QString& path) {
    const auto& scans = document_.dossier().trace->scans;
    const bool has_front =
        std::any_of(scans.begin(), scans.end(), [](const Scan& s) { return s.side == BoardSide::front; });
    show_view(QStringLiteral("board"));
    board_->add_scan(path, has_front ? BoardSide::back : BoardSide::front);
    board_->side().setCurrentIndex(has_front ? 1 : 0);
    view_shown();
}

void TracePage::refresh_page() {
    example_->setVisible(!has_content());
}

bool TracePage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::trace);
}

QString TracePage::sentence() const {
    if (!has_content()) return tr("Nothing traced yet");
    const auto& t = document_.analysis().trace;
    if (!t) return tr("The board");
    if (!t->state.contradictions.empty()) return tr("Readings contradict each other");
    return tr("%1 of the board is proven").arg(to_q(print_share(t->state.proven())));
}

QString TracePage::detail() const {
    const auto& t = document_.analysis().trace;
    if (!has_content() || !t) return tr("Bring the parts, a scan of each side, or the first reading.");
    return tr("%1 points, %2 nets, %3, about %4 probes left")
        .arg(t->state.net_of.size())
        .arg(t->state.net_count())
        .arg(
            to_q(plural(static_cast<long long>(document_.dossier().readings->size()), "reading", "readings")),
            to_q(print_count(static_cast<long long>(t->plan.remaining))));
}

QString TracePage::rail_line() const {
    const auto& t = document_.analysis().trace;
    return t ? tr("%1 proven").arg(to_q(print_share(t->state.proven()))) : tr("reading");
}

void TracePage::show_place(const FindingPlace& place) {
    const auto id = to_q(place.id);
    if (place.kind == "scan") return show_view(QStringLiteral("board"));
    if (place.kind == "difference") {
        show_view(QStringLiteral("netlist"));
        return netlist_->show_difference(id);
    }
    if (place.kind == "donor") {
        show_view(QStringLiteral("parts"));
        return parts_->show_donor(id);
    }
    if (place.kind == "part") return show_view(QStringLiteral("parts"));
    if (place.kind == "point") {
        show_view(QStringLiteral("board"));
        return board_->canvas().choose(id);
    }
    show_view(QStringLiteral("probe"));
    if (!id.isEmpty()) probe_->show_reading(id.toInt());
}

void TracePage::note_mouse(ActionRegistry& actions) const {
    const auto group = tr("Board");
    actions.note(group, tr("Zoom at the pointer"), tr("Ctrl+wheel, + and -"));
    actions.note(group, tr("Pan"), tr("wheel, drag, arrows"));
    actions.note(group, tr("Fit"), tr("Home"));
    actions.note(group, tr("Choose a point, name a pair"), tr("click, click another"));
}

}  // namespace grayrelic::app
