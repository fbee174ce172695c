// SPDX-License-Identifier: GPL-3.0-or-later
// How a capture is read: the family, which signal has which role, settings. One button puts it in force,
// another derives the contract from it. A capture can be read by several families at once; the first box
// chooses which of its decodings stands here.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"

#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

class DecoderBar : public QWidget {
    Q_OBJECT
  public:
    explicit DecoderBar(Document& document, QWidget* parent = nullptr);
    void show_capture(const CaptureAnalysis* capture);
    /// The box of a role that takes one signal; null for others.
    [[nodiscard]] QComboBox* role(const QString& name) const { return roles_.value(name); }
    /// Several signals in one line, in order, for a role that takes many.
    [[nodiscard]] QLineEdit* list_role(const QString& name) const { return lists_.value(name); }
    [[nodiscard]] QComboBox& kind() const { return *kind_; }
    [[nodiscard]] QComboBox& which() const { return *which_; }
    [[nodiscard]] QLineEdit& settings() const { return *settings_; }
    [[nodiscard]] QPushButton* read_button() const { return read_; }
    [[nodiscard]] QPushButton* contract_button() const { return contract_; }
    /// Why the last Read was not done; empty when it was.
    [[nodiscard]] QString complaint() const { return complaint_; }

  Q_SIGNALS:
    void read_wanted();
    /// A contract was derived; `nobody_answers` says why no question came with it.
    void contract_made(const QString& nobody_answers);

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    void place();
    void build_roles();
    void fill_which(const CaptureRef& ref);
    /// Of the chosen decoding; null for a new one.
    [[nodiscard]] const DecodeSetup* setup(const CaptureRef& ref) const;
    void show_setup(const CaptureAnalysis& capture);
    void fill_roles(const CaptureAnalysis& capture);
    void allow(const CaptureAnalysis& capture);
    void read();
    struct Proposal;
    void propose();
    [[nodiscard]] DecodeSetup as_chosen() const;
    [[nodiscard]] QString what_is_wrong(const DecodeSetup& wanted) const;
    void complain(const QString& text);
    Document& document_;
    std::string capture_;
    QString built_;  ///< the kind whose roles stand there
    QComboBox *which_, *kind_;
    QWidget* role_row_ = nullptr;
    QGridLayout* grid_;
    QWidget *lead_, *tail_;
    bool narrow_ = false;  ///< the roles stand in a row of their own
    QMap<QString, QComboBox*> roles_;
    QMap<QString, QLineEdit*> lists_;
    QLineEdit* settings_;
    QPushButton* read_;
    QPushButton* contract_;
    QString complaint_;
};

}  // namespace grayrelic::app
