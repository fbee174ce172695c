// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/pins_view.hpp"

#include <QApplication>
#include <QEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/file_system.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int form_typing_pause = 350;  // ms
constexpr int signal_column = 0, use_column = 1, pin_column = 2;

}  // namespace

PinsView::PinsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    ask_file = [this] {
        return QFileDialog::getSaveFileName(this, tr("Write the pins"), QStringLiteral("pins.h"),
                                            tr("Header for C (*.h);;All files (*)"));
    };
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    row->addWidget(make_pins(), 1);
    row->addWidget(make_right(), 1);
    pause_.setSingleShot(true);
    pause_.setInterval(form_typing_pause);
    connect(&pause_, &QTimer::timeout, this, &PinsView::commit_form);
}

QWidget* PinsView::make_pins() {
    pins_sheet_ = new Sheet(tr("Signals"));
    module_ = new QComboBox;
    module_->setAccessibleName(tr("Module"));
    module_->setToolTip(tr("The module whose pins are given out"));
    connect(module_, &QComboBox::activated, this, [this](int index) {
        const auto part = module_->itemData(index).toString().toStdString();
        if (part == document_.dossier().wire->pins.part) return;
        document_.apply(tr("choose the module"),
                        edit(document_.dossier(), &Dossier::wire, [&](Wire& w) { w.pins.part = part; }));
    });
    remove_ = compact_button(tr("Remove"), tr("Takes the chosen signal away; what the circuit wires stays"));
    connect(remove_, &QPushButton::clicked, this, [this] {
        document_.apply(tr("remove a signal"), drop<PinNeed>(document_.dossier(), selected_));
    });
    pins_sheet_->add_to_title(module_);
    pins_sheet_->add_to_title(remove_);
    entry_ = new Field;
    entry_->setPlaceholderText(tr("A signal more: BUZZER   ·   REPLY interrupt   ·   DIAL analogue P26"));
    entry_->setAccessibleName(tr("A signal as one line"));
    entry_->setToolTip(
        tr("Its name, what it asks (plain, interrupt, serial, programmable, analogue) and, if it must be, "
           "the pin"));
    entry_->commit = [this](const QString& text) { return enter(text); };
    pins_sheet_->body()->addWidget(entry_);
    pins_ = new FactTable;
    pins_->set_columns({{tr("Signal"), 110, false, true},
                        {tr("Asks"), 92, false, true},
                        {tr("Pin"), 56, false, true},
                        {tr("Says"), 150}},
                       tr("Signals and pins"));
    pins_->setToolTip(
        tr("What a signal asks and its pin are typed in place; an empty pin leaves the choice open"));
    connect(pins_, &FactTable::edited, this, &PinsView::edit_cell);
    connect(pins_, &FactTable::row_chosen, this, [this](int at) {
        if (at < 0) return;
        selected_ = pins_->key(at).toString().toStdString();
        remove_->setEnabled(document_.dossier().wire->find_need(selected_) != nullptr);
    });
    pins_sheet_->body()->addWidget(pins_, 1);
    return pins_sheet_;
}

QWidget* PinsView::make_right() {
    auto* holder = new QWidget;
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    advice_sheet_ = new Sheet(tr("Provide for"));
    advice_ = new FactTable;
    advice_->set_columns({{tr("What"), 90}, {tr("Where"), 110}, {tr("Why"), 150}}, tr("What to provide for"));
    advice_sheet_->body()->addWidget(advice_, 1);
    column->addWidget(advice_sheet_, 4);
    header_sheet_ = new Sheet(tr("For the firmware"));
    form_ = compact_button(tr("Own form"),
                           tr("The text from which it is made: {name} {pin} {number} {use} of each "
                              "signal,\n{module} {count} {checksum} of all; {{ is a brace. Empty: C"));
    form_->setCheckable(true);
    connect(form_, &QPushButton::toggled, this, [this](bool on) {
        if (!on) commit_form();
        fill_header();
    });
    write_ = compact_button(
        tr("Write …"),
        tr("The list of pins as a file; its checksum tells firmware that was built for other pins"));
    connect(write_, &QPushButton::clicked, this, [this] {
        const auto path = ask_file();
        if (!path.isEmpty()) header_sheet_->set_about(write_to(path));
    });
    header_sheet_->add_to_title(form_);
    header_sheet_->add_to_title(write_);
    header_ = new QPlainTextEdit;
    header_->setFont(figure_font(12));
    header_->setLineWrapMode(QPlainTextEdit::NoWrap);
    header_->setTabChangesFocus(true);
    header_->setAccessibleName(tr("Pins for the firmware"));
    header_->installEventFilter(this);
    connect(header_, &QPlainTextEdit::textChanged, this, [this] {
        if (form_->isChecked() && header_->toPlainText() != shown_form_) pause_.start();
    });
    header_sheet_->body()->addWidget(header_, 1);
    column->addWidget(header_sheet_, 5);
    return holder;
}

bool PinsView::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusOut && watched == header_) commit_form();
    return QWidget::eventFilter(watched, event);
}

void PinsView::refresh() {
    fill_pins();
    fill_advice();
    fill_header();
}

void PinsView::select(const QString& need) {
    selected_ = need.toStdString();
    refresh();
}

void PinsView::fill_pins() {
    const auto& w = document_.analysis().wire;
    const auto& data = document_.analysis().data;
    {
        const QSignalBlocker block(module_);
        module_->clear();
        module_->addItem(tr("in circuit"), QString());
        if (data)
            for (const auto& p : data->parts.parts)
                if (p.function == "module") module_->addItem(to_q(p.id), to_q(p.id));
        const auto& part = document_.dossier().wire->pins.part;
        if (!part.empty() && module_->findData(to_q(part)) < 0) module_->addItem(to_q(part), to_q(part));
        module_->setCurrentIndex(std::max(0, module_->findData(to_q(part))));
        module_->setEnabled(document_.is_open());
    }
    std::vector<TableRow> rows;
    int at = -1;
    if (w)
        for (const auto& p : w->pins.places) {
            TableCell name(to_q(p.name));
            name.key = to_q(p.need.empty() ? "wired " + p.name : p.need);
            name.icon = verdict_icon(p.verdict);
            const bool wired = p.why == "wired in the circuit";
            name.editable = !wired;
            TableCell pin(p.pin.empty() ? tr("none left") : to_q(p.pin), p.bound ? QColor() : theme().ink2);
            if (p.pin.empty()) pin.colour = theme().oxide;
            pin.editable = !wired;
            if (p.need == selected_ && !p.need.empty()) at = static_cast<int>(rows.size());
            rows.push_back({name, to_q(word(p.use)), pin, to_q(p.why)});
        }
    pins_sheet_->set_about(!problem_.isEmpty()        ? problem_
                           : !w                       ? tr("computing …")
                           : !w->pins.problem.empty() ? to_q(w->pins.problem)
                                                      : tr("%1: %2 signals, %3 of %4 pins free")
                                                            .arg(to_q(w->pins.module))
                                                            .arg(w->pins.places.size())
                                                            .arg(w->pins.free.size())
                                                            .arg(w->pins.pins));
    entry_->setEnabled(document_.is_open());
    remove_->setEnabled(document_.dossier().wire->find_need(selected_) != nullptr);
    const QSignalBlocker block(pins_);
    pins_->set_rows(std::move(rows));
    if (at >= 0) pins_->choose(at);
}

void PinsView::fill_advice() {
    std::vector<TableRow> rows;
    const auto& w = document_.analysis().wire;
    if (w) {
        for (const auto& r : w->pins.remedies) {
            TableCell what(tr("Too few pins"));
            what.icon = verdict_icon(Verdict::stop);
            rows.push_back({what, to_q(w->pins.module), to_q(r)});
        }
        for (const auto& p : w->pins.proposals) rows.push_back({to_q(p.what), to_q(p.where), to_q(p.why)});
    }
    advice_sheet_->set_about(
        rows.empty()
            ? tr("Debug header, test points and spare footprints are proposed once there is a module.")
            : QString());
    advice_->set_rows(std::move(rows));
}

void PinsView::fill_header() {
    const auto& w = document_.analysis().wire;
    const auto& form = document_.dossier().wire->pins.form;
    if (form_->isChecked()) {
        header_->setReadOnly(false);
        const auto text = to_q(form);
        if (text != shown_form_ || header_->toPlainText() != shown_form_) {
            if (header_->toPlainText() == shown_form_ || !header_->hasFocus()) {
                shown_form_ = text;
                header_->setPlainText(text);
                shown_form_ = header_->toPlainText();
            }
        }
        header_sheet_->set_about(tr("Your text; a line with {name} is repeated for each signal."));
    }
    QString problem;
    std::optional<std::string> made;
    if (w && !w->pins.places.empty()) {
        auto result = pin_header(w->pins, form);
        if (result)
            made = std::move(*result);
        else
            problem = to_q(result.error().message());
    }
    if (!problem.isEmpty()) header_sheet_->set_about(problem);
    write_->setEnabled(made.has_value());
    if (form_->isChecked()) return;
    header_->setReadOnly(true);
    shown_form_.clear();
    header_->setPlainText(made ? to_q(*made) : QString());
    if (problem.isEmpty())
        header_sheet_->set_about(made ? tr("its checksum changes with the pins")
                                      : tr("once there are signals"));
}

void PinsView::commit_form() {
    pause_.stop();
    if (!form_->isChecked() || !document_.is_open()) return;
    const auto typed = header_->toPlainText();
    if (typed == shown_form_) return;
    shown_form_ = typed;
    const auto text = typed.toStdString();
    document_.apply(tr("form of the pins"),
                    edit(document_.dossier(), &Dossier::wire, [&](Wire& w) { w.pins.form = text; }),
                    QStringLiteral("pins-form"));
}

void PinsView::edit_cell(int row, int column, const QString& text) {
    const auto& w = document_.analysis().wire;
    if (!w || row < 0 || static_cast<std::size_t>(row) >= w->pins.places.size()) return;
    const auto& place = w->pins.places[static_cast<std::size_t>(row)];
    const auto* held = document_.dossier().wire->find_need(place.need);
    PinNeed need;
    if (held != nullptr) {
        need = *held;
    } else {
        // What the circuit wires asks for nothing until it is said.
        need.name = place.name;
        need.id = free_id<PinNeed>(document_.dossier(), place.name);
    }
    const auto typed = text.trimmed().toStdString();
    problem_.clear();
    if (column == signal_column && !typed.empty()) need.name = typed;
    if (column == use_column) {
        const auto use = named<PinUse>(typed);
        if (!use) {
            QApplication::beep();
            problem_ = tr("Found “%1”, expected %2.").arg(text, to_q(one_of<PinUse>()));
            return fill_pins();
        }
        need.use = *use;
    }
    if (column == pin_column) need.pin = typed;
    if (held != nullptr && need == *held) return fill_pins();
    selected_ = need.id;
    const auto what = tr("pin of %1").arg(to_q(need.name));
    document_.apply(what, put(document_.dossier(), std::move(need)));
}

std::optional<QString> PinsView::enter(const QString& text) {
    if (text.trimmed().isEmpty()) return std::nullopt;
    auto need = need_from_text(text.toStdString());
    if (!need) return tr("Found %1, expected %2.").arg(to_q(need.error().found), to_q(need.error().expected));
    for (const auto& n : document_.dossier().wire->pins.needs)
        if (n.name == need->name) return tr("There is a signal %1 already.").arg(to_q(n.name));
    need->id = free_id<PinNeed>(document_.dossier(), need->name);
    selected_ = need->id;
    problem_.clear();
    document_.apply(tr("add a signal"), put(document_.dossier(), std::move(*need)));
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

QString PinsView::write_to(const QString& path) const {
    const auto& w = document_.analysis().wire;
    if (!w) return {};
    const auto text = pin_header(w->pins, document_.dossier().wire->pins.form);
    if (!text) return to_q(text.error().message());
    const auto written = write_atomically(disk(), path.toStdString(), *text);
    return written ? tr("written to %1").arg(path) : to_q(written.error().message());
}

}  // namespace grayrelic::app
