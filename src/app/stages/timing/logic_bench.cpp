// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/logic_bench.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

LogicBench::LogicBench(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(6);
    whole->addLayout(make_tools());
    whole->addWidget(make_choices());
    answer_ = new QLabel;
    answer_->setWordWrap(true);
    answer_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    whole->addWidget(answer_);
    whole->addWidget(make_answers(), 1);
    connect(tools_, &QTabBar::currentChanged, this, [this] { run(); });
    for (auto* box : {other_, capture_, corner_})
        connect(box, &QComboBox::activated, this, [this] { run(); });
    run();
}

QLayout* LogicBench::make_tools() {
    auto* head = new QHBoxLayout;
    tools_ = new QTabBar;
    tools_->setDrawBase(false);
    tools_->setExpanding(false);
    tools_->setAccessibleName(tr("Tools of the bench"));
    for (const auto& [name, tip] :
         {std::pair{tr("Step"), tr("Set inputs by hand and see every level")},
          {tr("Truth table"), tr("Every setting of the inputs")},
          {tr("Hazards"), tr("Changes of one input that may make an output twitch")},
          {tr("Equal?"), tr("Does another network do the same?")},
          {tr("Smallest"), tr("The smallest networks from the packages in the drawer")},
          {tr("Replay"), tr("Drive it with a capture's signals")}}) {
        const int i = tools_->addTab(name);
        tools_->setTabToolTip(i, tip);
    }
    head->addWidget(tools_);
    head->addStretch(1);
    return head;
}

QWidget* LogicBench::make_choices() {
    choices_ = new QWidget;
    auto* row = new QHBoxLayout(choices_);
    row->setContentsMargins(0, 0, 0, 0);
    other_ = new QComboBox;
    other_->setAccessibleName(tr("The other network"));
    capture_ = new QComboBox;
    capture_->setAccessibleName(tr("Capture that drives it"));
    corner_ = new QComboBox;
    corner_->setAccessibleName(tr("Corner of the delays"));
    for (const auto c : {Corner::slow, Corner::typical, Corner::fast}) corner_->addItem(to_q(word(c)));
    drawer_ = new Field;
    drawer_->setAccessibleName(tr("Packages in the drawer"));
    drawer_->setToolTip(tr("Packages at hand, with commas: 2 × 74x00 hct, 1 × 74x86 hct"));
    drawer_->setMinimumWidth(200);
    drawer_->commit = [this](const QString& text) { return change_drawer(text); };
    take_ = new QPushButton(tr("Add as network"));
    connect(take_, &QPushButton::clicked, this, [this] {
        const int r = std::max(0, table_->chosen());
        if (r < static_cast<int>(realisations_.size()))
            Q_EMIT network_wanted(tr("Smallest %1").arg(r + 1),
                                  to_q(realisations_[static_cast<std::size_t>(r)].net_list));
    });
    for (QWidget* w : std::initializer_list<QWidget*>{other_, capture_, corner_, drawer_, take_}) {
        w->setProperty("compact", true);
        row->addWidget(w, w == drawer_ ? 1 : 0);
    }
    row->addStretch(0);
    return choices_;
}

std::optional<QString> LogicBench::change_drawer(const QString& text) {
    auto timing = *document_.dossier().timing;
    timing.drawer.clear();
    for (const auto& part : text.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        const auto item = parse_drawer_item(part.trimmed().toStdString());
        if (!item) return tr("Expected %1.").arg(to_q(item.error().expected));
        timing.drawer.push_back(print_drawer_item(*item));
    }
    if (timing.drawer != document_.dossier().timing->drawer)
        document_.apply(tr("packages in the drawer"), put(document_.dossier(), std::move(timing)));
    run();
    return std::nullopt;
}

QWidget* LogicBench::make_answers() {
    stack_ = new QStackedWidget;
    inputs_ = new QWidget;
    new QHBoxLayout(inputs_);
    auto* input_area = new QScrollArea;
    input_area->setWidgetResizable(true);
    input_area->setWidget(inputs_);
    stack_->addWidget(input_area);
    table_ = new FactTable;
    stack_->addWidget(table_);
    plot_ = new ReplayPlot;
    auto* plot_area = new QScrollArea;
    plot_area->setWidgetResizable(true);
    plot_area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    plot_area->setWidget(plot_);
    stack_->addWidget(plot_area);
    return stack_;
}

void LogicBench::show_tool(Tool tool) {
    tools_->setCurrentIndex(tool);
}

QPushButton* LogicBench::input_button(const QString& net) const {
    return inputs_->findChild<QPushButton*>(QStringLiteral("input-") + net);
}

void LogicBench::fill_captures() {
    const auto fill = [](QComboBox& box, const QList<QPair<QString, QString>>& items) {
        const QSignalBlocker block(&box);
        const auto was = box.currentData();
        box.clear();
        for (const auto& [text, id] : items) box.addItem(text, id);
        const int i = box.findData(was);
        box.setCurrentIndex(i < 0 && box.count() > 0 ? 0 : i);
    };
    QList<QPair<QString, QString>> captures, others;
    for (const auto& c : *document_.dossier().captures) captures << qMakePair(to_q(c.title), to_q(c.id));
    for (const auto& n : document_.dossier().timing->networks)
        if ((!network_ || n.id != network_->source.id) && n.id != document_.dossier().wire->network)
            others << qMakePair(to_q(n.name), to_q(n.id));
    fill(*capture_, captures);
    fill(*other_, others);
    QStringList drawer;
    for (const auto& d : document_.dossier().timing->drawer) drawer << to_q(d);
    drawer_->show_value(drawer.join(QStringLiteral(", ")));
    drawer_->setPlaceholderText(tr("empty: your drawer"));
}

void LogicBench::show_network(std::shared_ptr<const NetworkAnalysis> network) {
    fill_captures();
    if (network == network_) return;
    network_ = std::move(network);
    machine_.reset();
    if (network_ && network_->network.computable())
        machine_ = std::make_unique<StepMachine>(network_->network);
    build_inputs();
    run();
}

void LogicBench::build_inputs() {
    qDeleteAll(inputs_->children());
    auto* grid = new QGridLayout(inputs_);
    grid->setContentsMargins(0, 4, 0, 4);
    grid->setSpacing(4);
    constexpr int in_a_row = 8;
    if (machine_) {
        const auto& n = network_->network;
        for (std::size_t i = 0; i < n.inputs.size(); ++i) {
            const auto name = to_q(n.net_name(n.inputs[i].net));
            auto* button = new QPushButton(tr("%1 = %2").arg(name, shown_level(machine_->inputs()[i])));
            button->setObjectName(QStringLiteral("input-") + name);
            button->setFont(figure_font(12));
            button->setProperty("compact", true);
            button->setCheckable(true);
            button->setChecked(machine_->inputs()[i] == Level::one);
            button->setToolTip(tr("Change this input; everything settles before the next"));
            connect(button, &QPushButton::clicked, this, [this, i] { toggle(i); });
            grid->addWidget(button, static_cast<int>(i) / in_a_row, static_cast<int>(i) % in_a_row);
        }
    }
    grid->setColumnStretch(in_a_row, 1);
    grid->setRowStretch(100, 1);
}

void LogicBench::toggle(std::size_t input) {
    const bool one = machine_->inputs()[input] != Level::one;
    const bool still = machine_->set(input, one ? Level::one : Level::zero);
    const auto& n = network_->network;
    const auto name = to_q(n.net_name(n.inputs[input].net));
    if (auto* b = input_button(name)) {
        b->setText(tr("%1 = %2").arg(name).arg(one ? 1 : 0));
        b->setChecked(one);
    }
    QStringList outputs;
    for (const int o : n.outputs)
        outputs << tr("%1 = %2").arg(to_q(n.net_name(o)), shown_level(machine_->net(o)));
    answer_->setText(still ? outputs.join(QStringLiteral("   "))
                           : tr("It does not come to rest: there is a loop that oscillates."));
    Q_EMIT stepped();
}

void LogicBench::run() {
    working_.cancel();
    truth_.cancel();
    const auto tool = static_cast<Tool>(tools_->currentIndex());
    other_->setVisible(tool == equal);
    drawer_->setVisible(tool == smallest);
    take_->setVisible(tool == smallest);
    capture_->setVisible(tool == replay);
    corner_->setVisible(tool == replay);
    choices_->setVisible(tool == equal || tool == smallest || tool == replay);
    stack_->setCurrentIndex(tool == step ? 0 : tool == replay ? 2 : 1);
    stack_->setVisible(true);
    table_->set_rows({});
    realisations_.clear();
    take_->setEnabled(false);
    if (!network_ || !network_->network.computable()) {
        answer_->setText(network_ ? tr("The net list has to be mended first.")
                                  : tr("Begin a network, or take the shipped example."));
        plot_->show_rows({}, {}, {});
        return;
    }
    switch (tool) {
        case step: {
            QStringList outputs;
            for (const int o : network_->network.outputs)
                outputs << tr("%1 = %2").arg(to_q(network_->network.net_name(o)),
                                             shown_level(machine_->net(o)));
            answer_->setText(outputs.join(QStringLiteral("   ")));
            break;
        }
        case truth: run_truth(); break;
        case hazards: run_hazards(); break;
        case equal: run_equal(); break;
        case smallest: run_smallest(); break;
        case replay: run_replay(); break;
    }
}

void LogicBench::run_replay() {
    const auto* c = document_.analysis().find_capture(capture_->currentData().toString().toStdString());
    if (c == nullptr || !c->capture) {
        answer_->setText(
            tr("Add a capture in Listen first: its signals drive the inputs of the same names."));
        plot_->show_rows({}, {}, {});
        return;
    }
    answer_->setText(tr("replaying …"));
    auto rows = std::make_shared<std::vector<ReplayPlot::Row>>();
    working_.ask(
        [network = network_, capture = c->named, decoding = c->decoding,
         corner = corner_->currentText().toStdString(), rows](Progress& progress) -> QString {
            const auto stimuli = stimuli_from(network->network, *capture, decoding.get());
            if (!stimuli)
                return tr("Found %1, expected %2.")
                    .arg(to_q(stimuli.error().found), to_q(stimuli.error().expected));
            SimulationOptions options;
            for (const auto k : {Corner::fast, Corner::typical, Corner::slow})
                if (word(k) == corner) options.corner = k;
            options.end = capture->extent.to;
            const auto r = simulate(network->network, *stimuli, options, progress);
            if (!r) return to_q(r.error().message());
            for (std::size_t i = 0; i < network->network.nets.size(); ++i) {
                const auto& net = network->network.nets[i];
                if (net.held || rows->size() >= 64) continue;
                if (net.input && network->network.inputs[static_cast<std::size_t>(*net.input)].from ==
                                     NetworkInput::From::level)
                    continue;
                rows->push_back(
                    {to_q(net.name), net.input ? Driver::relic : Driver::bridge,
                     std::make_shared<const DigitalWaveform>(waveform_of(r->nets[i], capture->extent.to))});
            }
            auto text = tr("%1 changes").arg(to_q(print_count(r->events)));
            if (!r->faults.empty())
                text +=
                    tr("; %1 set-up, hold or pulse faults, first on %2 at %3")
                        .arg(r->faults.size())
                        .arg(
                            to_q(
                                network->network.parts[static_cast<std::size_t>(r->faults.front().part)].ref),
                            to_q(print(r->faults.front().at, 6)));
            if (!r->clashes.empty())
                text += tr("; two outputs clash on %1")
                            .arg(to_q(network->network.net_name(r->clashes.front().net)));
            if (!r->stopped.empty()) text += QStringLiteral("; ") + to_q(r->stopped);
            return text;
        },
        [this, rows, capture = c->named](const QString& text) {
            answer_->setText(text);
            // Begin where something happens.
            Time first = capture->extent.to;
            for (const auto& r : *rows)
                if (!r.waveform->edges().empty()) first = std::min(first, r.waveform->edges().front());
            const Time length = std::min(capture->extent.length(), Time::us(400));
            plot_->show_rows(*rows, capture->extent,
                             {std::max(capture->extent.from, first - length / 20),
                              std::max(capture->extent.from, first - length / 20) + length});
        });
}

}  // namespace grayrelic::app
