// SPDX-License-Identifier: GPL-3.0-or-later
// A two-to-one multiplexer with an enable (low passes, high forces the outputs high), as circuit. The host looks
// at bank 0, then bank 1, and disables it between looks. Expected: bank and value of each look in select_bank.txt.
`timescale 1ns/1ns
module select_bank;
  reg sel = 0, en = 1;
  reg [3:0] a = 4'h3, b = 4'hC;
  wire [3:0] y;
  assign #40 y = en ? 4'hF : (sel ? b : a);
  integer i, f;
  initial begin
    $dumpfile("select_bank.vcd"); $dumpvars(0, select_bank.sel, select_bank.en, select_bank.y);
    f = $fopen("select_bank.txt");
    #50000;
    for (i = 0; i < 40; i = i + 1) begin
      a = (i * 7 + 3) % 16; b = (i * 5 + 9) % 16;
      sel = 0; #2000 en = 0; #12000;
      $fdisplay(f, "0 %0d", y);
      sel = 1; #12000;
      $fdisplay(f, "1 %0d", y);
      en = 1; #3000 sel = 0;
      #(200000 + (i % 3) * 40000);
    end
    $fclose(f); $finish;
  end
endmodule
