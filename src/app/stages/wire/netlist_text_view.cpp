// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/netlist_text_view.hpp"

#include <QEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QTextBlock>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/file_system.hpp"
#include "core/dossier/edits.hpp"
#include "core/parts/own_part.hpp"
#include "core/port/connector_library.hpp"
#include "core/trace/netlist.hpp"
#include "core/wire/begin.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int typing_pause = 350;  // ms after the last key, before the text becomes an edit

}  // namespace

NetlistTextView::NetlistTextView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    ask_file = [this] {
        return QFileDialog::getSaveFileName(
            this, tr("Write the netlist"), QStringLiteral("netlist.csv"),
            tr("Netlist as a table (*.csv);;Test netlist IPC-D-356A (*.ipc)"));
    };
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(make_entry());
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(make_side(0, tr("All options share")), 1);
    row->addWidget(make_side(1, tr("The chosen option")), 1);
    column->addLayout(row, 1);
    begin_ = compact_button(tr("Begin from the ports"),
                            tr("Joins each contact to a net of its name, supplies and grounds among them"));
    connect(begin_, &QPushButton::clicked, this, &NetlistTextView::begin);
    sides_[0].sheet->add_to_title(begin_);
    pause_.setSingleShot(true);
    pause_.setInterval(typing_pause);
    connect(&pause_, &QTimer::timeout, this, &NetlistTextView::commit_texts);
}

QWidget* NetlistTextView::make_entry() {
    entry_sheet_ = new Sheet(tr("Add, exchange, take out"));
    out_ = compact_button(tr("Write netlist …"), tr("As a table, or as a test netlist by IPC-D-356A"));
    connect(out_, &QPushButton::clicked, this, [this] {
        const auto path = ask_file();
        if (!path.isEmpty()) entry_sheet_->set_about(write_to(path));
    });
    trace_ = compact_button(
        tr("Hold a board against it"),
        tr("Gives this netlist to Trace, in place of an earlier one, so that a breadboard's readings are "
           "held against it"));
    connect(trace_, &QPushButton::clicked, this, &NetlistTextView::give_to_trace);
    entry_sheet_->add_to_title(trace_);
    entry_sheet_->add_to_title(out_);
    entry_ = new Field;
    entry_->setPlaceholderText(
        tr("resistor 4k7 REPLY V5   ·   74x125 hct 1A=X 1Y=Y   ·   swap U2.P7 U2.P6   ·   remove R7"));
    entry_->setAccessibleName(tr("A part as one line"));
    entry_->setToolTip(
        tr("A part and its nets; or swap and two pins; or remove and a part; or a part of your own:\n"
           "new my-latch dip-8 family=hct: 1 IN in, 4 GND ground, 7 Q out, 8 VCC supply"));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        return enter(text);
    };
    connect(entry_, &QLineEdit::textEdited, this, &NetlistTextView::say_of_part);
    entry_sheet_->body()->addWidget(entry_);
    advice_ = cut_label();
    entry_sheet_->body()->addWidget(advice_);
    problems_ = new QListWidget;
    problems_->setAccessibleName(tr("What is wrong in the circuit's text"));
    problems_->setMaximumHeight(84);
    problems_->setWordWrap(true);
    problems_->hide();
    connect(problems_, &QListWidget::itemActivated, this,
            [this](QListWidgetItem* item) { show_line(item->data(Qt::UserRole).toInt()); });
    entry_sheet_->body()->addWidget(problems_);
    return entry_sheet_;
}

QWidget* NetlistTextView::make_side(std::size_t side, const QString& title) {
    auto& s = sides_[side];
    s.sheet = new Sheet(title);
    s.text = new QPlainTextEdit;
    s.text->setFont(figure_font(12));
    s.text->setLineWrapMode(QPlainTextEdit::NoWrap);
    s.text->setAccessibleName(title);
    s.text->setTabChangesFocus(true);
    s.text->installEventFilter(this);
    connect(s.text, &QPlainTextEdit::textChanged, this, [this, side] {
        if (sides_[side].text->toPlainText() != sides_[side].shown) pause_.start();
    });
    s.sheet->body()->addWidget(s.text, 1);
    return s.sheet;
}

bool NetlistTextView::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusOut && (watched == sides_[0].text || watched == sides_[1].text))
        commit_texts();
    return QWidget::eventFilter(watched, event);
}

void NetlistTextView::commit_texts() {
    pause_.stop();
    for (auto& s : sides_) {
        const auto text = s.text->toPlainText();
        if (text == s.shown || s.text->isReadOnly()) continue;
        s.shown = text;
        auto typed = text.toStdString();
        if (!typed.empty() && !typed.ends_with('\n')) typed += '\n';
        if (s.network.empty()) {
            if (typed.empty()) continue;
            // What all share begins by being typed.
            LogicNetwork common;
            common.id = free_id<LogicNetwork>(document_.dossier(), "bridge");
            common.name = "Bridge";
            common.text = typed;
            const auto id = common.id;
            s.network = id;
            document_.apply(tr("begin the circuit"), edit(put(document_.dossier(), std::move(common)),
                                                          &Dossier::wire, [&](Wire& w) { w.network = id; }));
            continue;
        }
        const auto* n = document_.dossier().timing->find_network(s.network);
        if (n == nullptr || n->text == typed) continue;
        auto changed = *n;
        changed.text = typed;
        // Typing without a long pause is one step of undo.
        document_.apply(tr("circuit of %1").arg(to_q(n->name)), put(document_.dossier(), std::move(changed)),
                        QStringLiteral("circuit-") + to_q(s.network));
    }
}

void NetlistTextView::show_side(std::size_t side, const std::string& network, const QString& title,
                                const QString& about) {
    auto& s = sides_[side];
    const auto* n = document_.dossier().timing->find_network(network);
    const auto text = n == nullptr ? QString() : to_q(n->text);
    s.sheet->set_title(title);
    s.sheet->set_about(about);
    const bool same = s.network == network;
    // Typing in progress is kept; what it reads without its last line's end is the same.
    if (same && (text == s.shown || text == s.shown + QLatin1Char('\n'))) return;
    s.network = network;
    s.shown = text;
    if (s.text->toPlainText() != text) s.text->setPlainText(text);
}

void NetlistTextView::refresh() {
    const auto& d = document_.dossier();
    const auto bridge = bridge_text(*d.wire, *d.timing);
    show_side(0, bridge.common_id, tr("All options share"),
              bridge.common_id.empty() ? tr("ports, rails, module, protection; nothing yet")
                                       : tr("ports, rails, module, protection"));
    show_side(1, bridge.option_id,
              bridge.option.empty() ? tr("The chosen option") : tr("Option: %1").arg(to_q(bridge.option)),
              bridge.undecided           ? tr("No option is chosen: choose one under Timing.")
              : bridge.option_id.empty() ? tr("It has no circuit of its own.")
                                         : tr("the same text as under Timing, Logic"));
    sides_[0].text->setReadOnly(!document_.is_open());
    sides_[1].text->setReadOnly(bridge.option_id.empty());
    begin_->setVisible(bridge.common_id.empty());
    begin_->setEnabled(document_.is_open() && !d.ports->empty());
    const auto& w = document_.analysis().wire;
    const bool any = w && !w->circuit.empty();
    out_->setEnabled(any);
    trace_->setEnabled(any);
    entry_->setEnabled(document_.is_open());
    if (any)
        entry_sheet_->set_about(
            tr("%1 parts, %2 nets").arg(w->circuit.network.all.size()).arg(w->circuit.nets.size()));
    else
        entry_sheet_->set_about(tr("Begin from the ports, then add parts from net to net."));
    fill_problems();
}

void NetlistTextView::fill_problems() {
    problems_->clear();
    const auto& w = document_.analysis().wire;
    if (w)
        for (const auto& f : w->circuit.faults) {
            const auto [network, line] = w->circuit.text.place_of(f.line);
            auto* item = new QListWidgetItem(
                f.line > 0
                    ? tr("%1, line %2: %3 %4").arg(to_q(network)).arg(line).arg(to_q(f.says), to_q(f.todo))
                    : tr("%1 %2").arg(to_q(f.says), to_q(f.todo)));
            item->setIcon(verdict_icon(f.verdict));
            item->setData(Qt::UserRole, static_cast<int>(f.line));
            problems_->addItem(item);
        }
    problems_->setVisible(problems_->count() > 0);
}

void NetlistTextView::show_line(long line) {
    const auto& d = document_.dossier();
    const auto bridge = bridge_text(*d.wire, *d.timing);
    if (line <= 0) return;
    const auto [network, number] = bridge.place_of(line);
    auto& s = sides_[network == bridge.common_id && !bridge.common_id.empty() ? 0 : 1];
    const QTextCursor cursor(s.text->document()->findBlockByNumber(static_cast<int>(number) - 1));
    s.text->setTextCursor(cursor);
    s.text->setFocus();
}

void NetlistTextView::begin() {
    const auto& data = document_.analysis().data;
    if (!data) return;
    auto next = with_circuit_begun(document_.dossier(), data->logic);
    if (next == document_.dossier())
        return entry_sheet_->set_about(tr("No port has a named contact yet: describe one under Port."));
    document_.apply(tr("begin the circuit from the ports"), std::move(next));
}

std::optional<QString> NetlistTextView::enter(const QString& text) {
    const auto& a = document_.analysis();
    if (!a.wire || !a.data) return tr("The parts' data is not there.");
    if (text.trimmed().startsWith(QStringLiteral("new "))) return keep_part(text);
    auto next = with_typed_part(document_.dossier(), a.wire->circuit, a.data->logic, text.toStdString());
    if (!next) return tr("Found %1, expected %2.").arg(to_q(next.error().found), to_q(next.error().expected));
    document_.apply(text.trimmed(), std::move(*next));
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

/// A part that no file has: kept beside the shipped ones, for all dossiers.
std::optional<QString> NetlistTextView::keep_part(const QString& text) {
    const auto part = own_part(text.trimmed().toStdString());
    if (!part) return tr("Found %1, expected %2.").arg(to_q(part.error().found), to_q(part.error().expected));
    if (document_.data().parts.find(part->part.id) != nullptr)
        return tr("There is a part %1 already.").arg(to_q(part->part.id));
    const auto kept = keep_own_part(disk(), user_data_folder(), *part);
    if (!kept) return to_q(kept.error().message());
    document_.read_data_again();
    entry_->clear();
    entry_->show_value({});
    entry_sheet_->set_about(tr("%1 is one of your parts now.").arg(to_q(part->part.id)));
    return std::nullopt;
}

/// Asked when a part is picked: can I solder this?
void NetlistTextView::say_of_part(const QString& text) {
    const auto& data = document_.analysis().data;
    const auto kind = text.trimmed().section(QLatin1Char(' '), 0, 0).toStdString();
    const auto* type = data ? data->parts.find(kind) : nullptr;
    if (type == nullptr) {
        advice_->setText({});
        return;
    }
    const auto a = advice_for(*type, type->package, data->packages, document_.person().bench);
    QString says = tr("%1, usually as %2. %3")
                       .arg(to_q(type->name), to_q(a.package.empty() ? "?" : a.package), to_q(a.why));
    if (!a.easier.empty()) says += tr(" Easier: %1.").arg(to_q(a.easier.front()));
    if (!a.instead.empty()) says += tr(" Or %1.").arg(to_q(a.instead.front()));
    advice_->setText(says);
    advice_->setToolTip(says);
}

QString NetlistTextView::write_to(const QString& path) const {
    const auto& w = document_.analysis().wire;
    if (!w) return {};
    const auto nets = netlist_of(w->circuit);
    const bool ipc = path.endsWith(QStringLiteral(".ipc"), Qt::CaseInsensitive);
    const auto text = ipc ? write_ipc_d_356a(nets, {}, document_.dossier().about->name) : write_net_csv(nets);
    const auto written = write_atomically(disk(), path.toStdString(), text);
    return written ? tr("written to %1").arg(path) : to_q(written.error().message());
}

void NetlistTextView::give_to_trace() {
    const auto& w = document_.analysis().wire;
    if (!w) return;
    NetSource source;
    source.id = "bridge";
    source.name = "Bridge, as wired here";
    source.note = "From Wire's circuit; give it again after a change.";
    source.nets = netlist_of(w->circuit);
    auto next = put(document_.dossier(), std::move(source));
    next = edit(next, &Dossier::trace, [](Trace& t) { t.against = "bridge"; });
    if (next == document_.dossier()) return entry_sheet_->set_about(tr("Trace has it already."));
    document_.apply(tr("give the circuit to Trace"), std::move(next));
    entry_sheet_->set_about(tr("Trace, Netlist holds a board against it now."));
}

}  // namespace grayrelic::app
