// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/contract_editor.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QMenu>
#include <QScrollArea>
#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/busy_dialog.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/report/contract_figure.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/derive_contract.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

struct FactField {
    const char* key;
    const char* label;
    const char* tip;
};
constexpr FactField fact_fields[] = {
    {"name", QT_TR_NOOP("Name"), ""},
    {"from", QT_TR_NOOP("From"),
     QT_TR_NOOP("An edge, STEP:rise, or frame:start, frame:end, frame:bit1, frame:error")},
    {"to", QT_TR_NOOP("To"), QT_TR_NOOP("The same, or from itself for a period")},
    {"within", QT_TR_NOOP("Counts within"), QT_TR_NOOP("Longer ones are not this interval; empty for all")},
    {"guard", QT_TR_NOOP("Guard band"), QT_TR_NOOP("What a replica must be better by")},
    {"min", QT_TR_NOOP("Least"), QT_TR_NOOP("Entered by hand, when no capture gives it")},
    {"typ", QT_TR_NOOP("Typical"), QT_TR_NOOP("Entered by hand, when no capture gives it")},
    {"max", QT_TR_NOOP("Most"), QT_TR_NOOP("Entered by hand, when no capture gives it")}};

}  // namespace

ContractEditor::ContractEditor(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    whole->addWidget(make_figure(), 5);
    auto* bottom = new QHBoxLayout;
    bottom->setSpacing(8);
    bottom->addWidget(make_facts(), 6);
    bottom->addLayout(make_right(), 3);
    whole->addLayout(bottom, 3);
}

QWidget* ContractEditor::make_figure() {
    figure_sheet_ = new Sheet(tr("Timing figure"));
    derive_ = new QPushButton(tr("Derive from capture"));
    derive_->setToolTip(tr("Measures what a conversation of this family promises; what stands is kept"));
    connect(derive_, &QPushButton::clicked, this, &ContractEditor::derive);
    add_ = new QPushButton(tr("Add interval"));
    connect(add_, &QPushButton::clicked, this, &ContractEditor::add_interval);
    for (auto* b : {derive_, add_}) {
        b->setProperty("compact", true);
        figure_sheet_->add_to_title(b);
    }
    figure_ = new DrawingView(tr("The contract as a timing figure"));
    figure_->redraw = [this](double width) {
        const auto& a = document_.analysis();
        ContractDrawingOptions options;
        options.width = std::max(560.0, width);
        options.selected = selected_;
        options.driver = [this](const std::string& signal) {
            for (const auto& c : *document_.dossier().captures)
                if (const auto* pin = document_.dossier().pin_of(c, signal)) return pin->driver.value;
            return Driver::unknown;
        };
        return draw_contract(a.timing->contract, options);
    };
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setWidget(figure_);
    figure_sheet_->body()->addWidget(scroll, 1);
    connect(figure_, &DrawingView::picked, this, &ContractEditor::select);
    return figure_sheet_;
}

QWidget* ContractEditor::make_facts() {
    facts_sheet_ = new Sheet(tr("Interval"));
    remove_ = new QPushButton(tr("Remove"));
    remove_->setProperty("compact", true);
    facts_sheet_->add_to_title(remove_);
    connect(remove_, &QPushButton::clicked, this, [this] {
        if (const auto* i = interval())
            document_.apply(tr("remove %1").arg(to_q(i->name)),
                            drop<ContractInterval>(document_.dossier(), i->id));
    });
    make_fields();
    auto* line = new QHBoxLayout;
    evidence_ = new EvidenceButton;
    connect(evidence_, &EvidenceButton::chosen, this, [this](EvidenceKind kind) {
        if (const auto* i = interval()) {
            auto changed = *i;
            changed.evidence.kind = kind;
            document_.apply(tr("evidence of %1").arg(to_q(i->name)),
                            put(document_.dossier(), std::move(changed)));
        }
    });
    specimens_ = secondary_label({});
    specimens_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    specimens_->setWordWrap(true);
    line->addWidget(evidence_, 0, Qt::AlignTop);
    line->addWidget(specimens_, 1);
    facts_sheet_->body()->addLayout(line);
    facts_sheet_->body()->addStretch(1);
    return facts_sheet_;
}

void ContractEditor::make_fields() {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(2);
    int cell = 0;
    const auto place = [&](const QString& text, QWidget* w) {
        auto* label = new QLabel(text);
        label->setFont(text_font(12));
        label->setBuddy(w);
        grid->addWidget(label, cell % 5, cell / 5 * 2);
        grid->addWidget(w, cell % 5, cell / 5 * 2 + 1);
        ++cell;
    };
    for (const auto& f : fact_fields) {
        auto* field = new Field;
        field->setProperty("compact", true);
        field->setMinimumWidth(60);
        field->setFont(QLatin1String(f.key) == QLatin1String("name") ? text_font(12) : figure_font(12));
        field->setAccessibleName(tr(f.label));
        if (*f.tip != 0) field->setToolTip(tr(f.tip));
        field->commit = [this, key = QString::fromLatin1(f.key)](const QString& text) {
            return change(key, text);
        };
        fields_[QString::fromLatin1(f.key)] = field;
        place(tr(f.label), field);
        if (QLatin1String(f.key) == QLatin1String("name")) {
            kind_ = new QComboBox;
            kind_->setProperty("compact", true);
            kind_->setAccessibleName(tr("Kind of interval"));
            for (const auto k : all_of<IntervalKind>()) kind_->addItem(to_q(word(k)));
            connect(kind_, &QComboBox::activated, this,
                    [this] { (void)change(QStringLiteral("kind"), kind_->currentText()); });
            place(tr("Kind"), kind_);
        }
    }
    kind_->setMinimumWidth(60);
    make_captures();
    place(tr("Measured in"), captures_);
    grid->setColumnStretch(1, 1);
    grid->setColumnStretch(3, 1);
    facts_sheet_->body()->addLayout(grid);
}

void ContractEditor::make_captures() {
    captures_ = new QPushButton;
    captures_->setMinimumWidth(60);
    captures_->setProperty("compact", true);
    captures_->setToolTip(tr("Captures to measure it from; several give the range over specimens"));
    auto* menu = new QMenu(captures_);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        const auto* i = interval();
        for (const auto& c : *document_.dossier().captures) {
            auto* action = menu->addAction(to_q(c.title));
            action->setCheckable(true);
            action->setChecked(
                i != nullptr &&
                (i->capture == c.id || std::find(i->also.begin(), i->also.end(), c.id) != i->also.end()));
            connect(action, &QAction::triggered, this,
                    [this, id = to_q(c.id)](bool on) { change_capture(id, on); });
        }
    });
    captures_->setMenu(menu);
}

QLayout* ContractEditor::make_right() {
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    histogram_ = new HistogramView;
    histogram_->setAccessibleName(tr("How often it was how long"));
    auto* often = new Sheet(tr("How often it was how long"));
    histogram_->setMinimumHeight(100);
    histogram_->setMinimumWidth(150);
    often->body()->addWidget(histogram_, 1);
    right->addWidget(often, 1);

    breach_sheet_ = new Sheet(tr("Not allowed by the contract"));
    breaches_ = new FactTable;
    breaches_->set_columns(
        {{tr("Interval"), 96}, {tr("Length"), 62, true}, {tr("At"), 70, true}, {tr("Capture"), 60}},
        tr("What the contract does not allow"));
    breaches_->setToolTip(tr("Double click or Enter: show it in Listen"));
    connect(breaches_, &FactTable::row_opened, this, [this](int row) {
        if (row >= 0 && row < static_cast<int>(breach_places_.size()))
            Q_EMIT place_wanted(breach_places_[static_cast<std::size_t>(row)]);
    });
    breach_sheet_->body()->addWidget(breaches_, 1);
    right->addWidget(breach_sheet_, 1);
    return right;
}

const ContractInterval* ContractEditor::interval() const {
    return document_.dossier().timing->find_interval(selected_);
}

QString ContractEditor::selected() const {
    return to_q(selected_);
}

void ContractEditor::select(const QString& id) {
    selected_ = id.toStdString();
    refresh();
}

void ContractEditor::derive() {
    const auto& a = document_.analysis();
    const CaptureAnalysis* source = a.find_capture(document_.dossier().timing->reply.capture);
    if (source == nullptr || !source->decoding)
        for (const auto& c : a.listen->captures)
            if (c->decoding) {
                source = c.get();
                break;
            }
    if (source == nullptr || !source->decoding) {
        figure_sheet_->set_about(tr("No capture is decoded yet: say in Listen which signal has which role."));
        return;
    }
    const auto ref = source->ref;
    auto proposed = std::make_shared<DerivedContract>();
    const auto ran =
        run_with_progress(this, tr("Deriving the contract"),
                          [proposed, ref, capture = source->capture, decoding = source->decoding,
                           period = source->sample_period](Progress& progress) {
                              if (auto derived = derive_contract(
                                      {ref.id, *capture, ref.decode.roles, *decoding, period}, progress))
                                  *proposed = std::move(*derived);
                          });
    if (!ran) return figure_sheet_->set_about(to_q(ran.error().message()));
    auto timing = *document_.dossier().timing;
    int added = 0;
    for (auto& i : proposed->intervals) {
        const bool there =
            std::any_of(timing.intervals.begin(), timing.intervals.end(), [&](const ContractInterval& old) {
                return old.id == i.id || (old.from == i.from && old.to == i.to && old.kind == i.kind);
            });
        if (there) continue;
        timing.intervals.push_back(std::move(i));
        ++added;
    }
    figure_sheet_->set_about(
        added == 0
            ? tr("Everything that a conversation of this family promises stands already.")
            : tr("%1 added from “%2”").arg(to_q(plural(added, "interval", "intervals")), to_q(ref.title)));
    if (added > 0) document_.apply(tr("derive the contract"), put(document_.dossier(), std::move(timing)));
}

void ContractEditor::add_interval() {
    ContractInterval i;
    i.id = free_id<ContractInterval>(document_.dossier(), "interval");
    i.name = tr("New interval").toStdString();
    const auto& q = document_.dossier().timing->reply;
    std::string signal = "SIGNAL";
    for (const auto& c : document_.analysis().listen->captures)
        if (c->capture && !c->capture->signals.empty()) {
            signal = short_name(c->capture->signals.front().name);
            i.capture = c->ref.id;
            break;
        }
    i.from = q.trigger.empty() ? signal + ":rise" : q.trigger;
    i.to = signal + ":any";
    i.evidence = {i.capture.empty() ? EvidenceKind::assumed : EvidenceKind::measured, "", "", ""};
    selected_ = i.id;
    document_.apply(tr("add an interval"), put(document_.dossier(), std::move(i)));
}

std::optional<QString> ContractEditor::change(const QString& key, const QString& text) {
    const auto* found = interval();
    if (found == nullptr) return std::nullopt;
    auto i = *found;
    const auto value = text.trimmed().toStdString();
    if (key == QStringLiteral("name")) {
        if (value.empty()) return tr("Expected a name.");
        i.name = value;
    } else if (key == QStringLiteral("kind")) {
        const auto kind = named<IntervalKind>(value);
        if (!kind) return tr("Expected %1.").arg(to_q(one_of<IntervalKind>()));
        i.kind = *kind;
    } else if (key == QStringLiteral("from") || key == QStringLiteral("to")) {
        const auto event = parse_event(value);
        if (!event) return tr("Expected %1.").arg(to_q(event.error().expected));
        (key == QStringLiteral("from") ? i.from : i.to) = value;
    } else {
        std::optional<Time> time;
        if (!value.empty()) {
            const auto t = parse_time(value);
            if (!t || *t < Time{}) return tr("Expected a time from 0 s, like 2.2us, or nothing.");
            time = *t;
        }
        if (key == QStringLiteral("within")) i.within = time;
        if (key == QStringLiteral("guard")) i.guard = time;
        auto* entered = key == QStringLiteral("min")   ? &i.min
                        : key == QStringLiteral("typ") ? &i.typ
                        : key == QStringLiteral("max") ? &i.max
                                                       : nullptr;
        if (entered != nullptr) {
            *entered = time;
            if (i.evidence.kind == EvidenceKind::measured && i.capture.empty())
                i.evidence.kind = EvidenceKind::assumed;
        }
        const auto ordered = [](const std::optional<Time>& a, const std::optional<Time>& b) {
            return !a || !b || *a <= *b;
        };
        if (!ordered(i.min, i.typ) || !ordered(i.typ, i.max) || !ordered(i.min, i.max))
            return tr("Expected least not above typical, typical not above most.");
    }
    if (i != *found)
        document_.apply(tr("%1 of %2").arg(key, to_q(found->name)), put(document_.dossier(), std::move(i)));
    return std::nullopt;
}

void ContractEditor::change_capture(const QString& q, bool on) {
    const auto* found = interval();
    if (found == nullptr) return;
    auto i = *found;
    const auto id = q.toStdString();
    std::vector<std::string> all = i.also;
    if (!i.capture.empty()) all.insert(all.begin(), i.capture);
    std::erase(all, id);
    if (on) all.push_back(id);
    i.capture = all.empty() ? std::string() : all.front();
    i.also.assign(all.begin() + (all.empty() ? 0 : 1), all.end());
    document_.apply(tr("captures of %1").arg(to_q(found->name)), put(document_.dossier(), std::move(i)));
}

void ContractEditor::refresh() {
    const auto& intervals = document_.dossier().timing->intervals;
    if (interval() == nullptr) selected_ = intervals.empty() ? std::string() : intervals.front().id;
    figure_->show_drawing(figure_->redraw(figure_->width()));
    fill_facts();
    fill_breaches();
}

}  // namespace grayrelic::app
