// SPDX-License-Identifier: GPL-3.0-or-later
// The window at Plan, with a drawer and a bench of its own.
#pragma once

#include <gmock/gmock.h>

#include "app/stages/plan/plan_page.hpp"
#include "core/port/connector_library.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {

class PlanWindow : public WindowTest {
  protected:
    void SetUp() override {
        was_ = qgetenv("XDG_DATA_HOME");
        data_ = std::make_unique<test::TempFolder>();
        qputenv("XDG_DATA_HOME", QByteArray::fromStdString(data_->path().string()));
        WindowTest::SetUp();
    }
    void TearDown() override {
        WindowTest::TearDown();
        qputenv("XDG_DATA_HOME", was_);
    }
    void begin_job() {
        window->files().make_new();
        window->show_stage(Stage::plan);
        page().show_view(QStringLiteral("parts"));
        settle();
    }
    PlanPage& page() { return window->page<PlanPage>(); }
    SupplyView& supply() { return page().supply(); }
    /// Types into a field and presses Enter.
    void type(Field* field, const QString& text) {
        ASSERT_NE(field, nullptr);
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
        settle();
    }
    std::string said(const QString& part) { return supply().parts().said_of(part).toStdString(); }

  private:
    QByteArray was_;
    std::unique_ptr<test::TempFolder> data_;
};

}  // namespace grayrelic::app
