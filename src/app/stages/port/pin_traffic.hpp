// SPDX-License-Identifier: GPL-3.0-or-later
// What the captures saw on a pin: how often it moved, its shortest pulse, where it rests, and a glimpse of
// it. The facts above can be held against it.
#pragma once

#include "app/widgets/sheet.hpp"
#include "core/analysis/analysis.hpp"

namespace grayrelic::app {

class PinTraffic : public Sheet {
    Q_OBJECT
  public:
    explicit PinTraffic(QWidget* parent = nullptr);
    void show_pin(const Analysis& analysis, const Dossier& dossier, const std::string& port,
                  const std::string& number);
    [[nodiscard]] QString figures() const { return figures_->text(); }

  private:
    class Glimpse;
    QLabel* figures_;
    Glimpse* glimpse_;
};

}  // namespace grayrelic::app
