// SPDX-License-Identifier: GPL-3.0-or-later
// A fact edited in place: label, value, evidence, and where it came from.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QWidget>

class QGridLayout;

#include "app/widgets/field.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic::app {

/// The four-step evidence sign with a menu to choose from; assumed values are set in italics beside it.
class EvidenceButton : public QWidget {
    Q_OBJECT
  public:
    explicit EvidenceButton(QWidget* parent = nullptr);
    /// Without a value there is no evidence to show: all four steps stay open.
    void show_kind(EvidenceKind kind, bool has_value = true);
    [[nodiscard]] EvidenceKind kind() const { return kind_; }
    [[nodiscard]] QSize sizeHint() const override { return {38, 24}; }

  Q_SIGNALS:
    void chosen(EvidenceKind kind);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void open_menu();
    bool has_value_ = true;
    EvidenceKind kind_ = EvidenceKind::assumed;
};

class FactRow : public QWidget {
    Q_OBJECT
  public:
    /// With choices the value is picked from a list, else typed.
    FactRow(const QString& label, const QStringList& choices, QWidget* parent = nullptr);
    void show_fact(const QString& value, const Evidence& evidence);
    /// A source that is longer than the room beside the evidence stands in a line of its own, whole; without
    /// this it stands in the tooltip where there is no room.
    void set_whole(bool on);
    /// Returns a message when the value can't be taken.
    std::function<std::optional<QString>(const QString& value, const Evidence& evidence)> commit;
    /// How a value is known that is entered where nothing was; without it, such a value is assumed.
    std::function<Evidence()> new_evidence;
    [[nodiscard]] Field* value_field() const { return value_; }
    [[nodiscard]] QComboBox* value_choice() const { return choice_; }

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    std::optional<QString> send(const QString& value, Evidence evidence);
    [[nodiscard]] QString value_text() const;
    void fit();
    Field* value_ = nullptr;
    QComboBox* choice_ = nullptr;
    EvidenceButton* evidence_;
    Field* source_;
    [[nodiscard]] Evidence evidence_now() const;
    Evidence shown_;
    bool has_value_ = false;
    bool whole_ = false;
    QGridLayout* grid_;
};

}  // namespace grayrelic::app
