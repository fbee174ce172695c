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
#include "core/trace/ledger.hpp"
#include "core/trace/netlist.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

constexpr std::size_t most_table_bytes = 64U << 20U;

TracePage::TracePage(Document& document, QWidget* parent) : StagePage(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(16, 12, 16, 16);
    whole->setSpacing(8);
    views_ = new QTabBar;
    views_->setDrawBase(false);
    views_->setExpanding(false);
    views_->setAccessibleName(tr("Views of the board"));
    for (const auto& name : {tr("Probe"), tr("Board"), tr("Netlist"), tr("Circuit"), tr("Parts")})
        views_->addTab(name);
    auto* head = new QHBoxLayout;
    head->addWidget(views_);
    head->addStretch(1);
    example_ = make_example_button();
    head->addWidget(example_);
    whole->addLayout(head);
    message_ = new QLabel;
    message_->setWordWrap(true);
    message_->setObjectName(QStringLiteral("trace-message"));
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    message_->hide();
    whole->addWidget(message_);
    stack_ = new QStackedWidget;
    probe_ = new ProbeView(document_);
    board_ = new BoardView(document_);
    netlist_ = new NetlistView(document_);
    circuit_ = new CircuitView(document_);
    parts_ = new PartsView(document_);
    for (auto* v : std::initializer_list<QWidget*>{probe_, board_, netlist_, circuit_, parts_})
        stack_->addWidget(v);
    whole->addWidget(stack_, 1);
    const char* keys[] = {"Alt+1", "Alt+2", "Alt+3", "Alt+4", "Alt+5"};
    for (int i = 0; i < views_->count(); ++i) {
        views_->setTabToolTip(i, tr("%1 (Alt+%2)").arg(views_->tabText(i)).arg(i + 1));
        add_view_key(this, tr("Trace"), views_->tabText(i), {keys[i]}, [this, i] {
            show_view(static_cast<View>(i));
        })->setShortcutContext(Qt::WindowShortcut);
    }
    connect(views_, &QTabBar::currentChanged, this, [this](int i) {
        stack_->setCurrentIndex(i);
        refresh_view();
        if (i == probe) probe_->setFocus();
    });
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
        write(tr("Write the circuit sheets"), QStringLiteral("circuit.pdf"), tr("PDF (*.pdf);;SVG (*.svg)"),
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
        const auto path =
            ask_open(tr("A scan of the copper"), tr("Pictures (*.png *.jpg *.jpeg *.bmp *.ppm)"));
        if (!path.isEmpty()) board_->add_scan(path, side);
    });
    connect(&board_->canvas(), &BoardCanvas::picked, probe_,
            [this](const QString& point) { probe_->pick_point(point); });
    connect(&document_, &Document::changed, this, &TracePage::refresh);
    connect(&document_, &Document::analysed, this, &TracePage::refresh);
    refresh();
}

void TracePage::tell(const QString& text) {
    message_->setText(text);
    message_->setVisible(!text.isEmpty());
}

void TracePage::load(const QString& title) {
    const auto path =
        ask_open(title, tr("Tables and netlists (*.csv *.tsv *.txt *.ipc *.356);;All files (*)"));
    if (path.isEmpty()) return;
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
        show_view(probe);
        return tell(tr("%1 from %2 added.")
                        .arg(to_q(plural(static_cast<long long>(n), "reading", "readings")), name));
    }
    if (ledger_like) return tell(to_q(ledger.error().message()));
    const auto problem = netlist_->take_netlist(text, name);
    if (!problem.isEmpty()) return tell(problem);
    show_view(netlist);
    tell(tr("%1 loaded.").arg(name));
}

void TracePage::add_scan(const QString& path) {
    const auto& scans = document_.dossier().trace->scans;
    const bool has_front =
        std::any_of(scans.begin(), scans.end(), [](const Scan& s) { return s.side == BoardSide::front; });
    show_view(board);
    board_->add_scan(path, has_front ? BoardSide::back : BoardSide::front);
    board_->side().setCurrentIndex(has_front ? 1 : 0);
    refresh();
}

void TracePage::show_view(View view) {
    views_->setCurrentIndex(view);
}

void TracePage::changeEvent(QEvent* event) {
    // Cells and signs keep the colours they were made with.
    if (event->type() == QEvent::PaletteChange && stack_ != nullptr && stack_->count() == 5) refresh_view();
    StagePage::changeEvent(event);
}

void TracePage::refresh_view() {
    switch (views_->currentIndex()) {
        case probe: return probe_->refresh();
        case board: return board_->refresh();
        case netlist: return netlist_->refresh();
        case circuit: return circuit_->refresh();
        default: return parts_->refresh();
    }
}

void TracePage::refresh() {
    example_->setVisible(!has_content());
    refresh_view();
    Q_EMIT header_changed();
}

bool TracePage::has_content() const {
    return !document_.dossier().readings->empty() || !document_.dossier().trace->parts.empty() ||
           !document_.dossier().trace->scans.empty() || !document_.dossier().trace->netlists.empty();
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
    if (place.kind == "scan") return show_view(board);
    if (place.kind == "difference") {
        show_view(netlist);
        return netlist_->show_difference(id);
    }
    if (place.kind == "donor") {
        show_view(parts);
        return parts_->show_donor(id);
    }
    if (place.kind == "part") return show_view(parts);
    if (place.kind == "point") {
        show_view(board);
        return board_->canvas().choose(id);
    }
    show_view(probe);
    if (!id.isEmpty()) probe_->show_reading(id.toInt());
}

void TracePage::describe_keys(ActionRegistry& actions) const {
    actions.collect(*this);
    actions.collect(*probe_);
    actions.collect(circuit_->paper());
    const auto group = tr("Board");
    actions.note(group, tr("Zoom at the pointer"), tr("Ctrl+wheel, + and -"));
    actions.note(group, tr("Pan"), tr("wheel, drag, arrows"));
    actions.note(group, tr("Fit"), tr("Home"));
    actions.note(group, tr("Choose a point, name a pair"), tr("click, click another"));
}

}  // namespace grayrelic::app
