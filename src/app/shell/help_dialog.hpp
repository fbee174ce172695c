// SPDX-License-Identifier: GPL-3.0-or-later
// Help: every shortcut, listed from the actions themselves.
#pragma once

#include <QDialog>

#include "app/shell/action_registry.hpp"

namespace grayrelic::app {

class HelpDialog : public QDialog {
    Q_OBJECT
  public:
    HelpDialog(const ActionRegistry& actions, QWidget* parent);
};

}  // namespace grayrelic::app
