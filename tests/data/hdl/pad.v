// SPDX-License-Identifier: GPL-3.0-or-later
// A host polling a 12-bit shift register, as a circuit: compiled and run by a general HDL simulator, whose value
// change dump is pad.vcd beside this file. It is the independent writer that the reader and the decoder are tested
// against. The words are those of the table below; nothing of Gray Relic took part in making the file.
`timescale 1ns/10ps
module pad;
  reg latch = 0;
  reg clk = 1;
  reg [11:0] inputs;
  reg [11:0] shifter;
  wire data;
  real supply = 5.0;
  integer i, p;
  reg [11:0] words [0:4];
  assign #37.5 data = shifter[11];
  always @(posedge latch) shifter <= inputs;
  always @(posedge clk) shifter <= {shifter[10:0], 1'b1};
  initial begin
    words[0] = 12'hA5C; words[1] = 12'h000; words[2] = 12'hFFF; words[3] = 12'h123; words[4] = 12'h801;
    $dumpfile("pad.vcd");
    $dumpvars(0, pad);
    #1000;
    for (p = 0; p < 5; p = p + 1) begin
      inputs = words[p];
      supply = 5.0 - p * 0.01;
      latch = 1; #600 latch = 0; #400;
      for (i = 0; i < 12; i = i + 1) begin
        clk = 0; #250 clk = 1; #250;
      end
      #5000;
    end
    $finish;
  end
endmodule
