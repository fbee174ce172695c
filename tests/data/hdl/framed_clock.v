// SPDX-License-Identifier: GPL-3.0-or-later
// A device that clocks out start, 8 data bits least significant first, odd parity and stop; the host holds the
// clock low now and then between frames. Expected values in framed_clock.txt.
`timescale 1ns/1ns
module framed_clock;
  reg dclk = 1, hold = 0, data = 1;
  wire clk = dclk & ~hold;
  reg [7:0] value = 8'hB7;
  integer i, k, f;
  task bitout(input b); begin data = b; #15000 dclk = 0; #40000 dclk = 1; #25000; end endtask
  initial begin
    $dumpfile("framed_clock.vcd"); $dumpvars(0, framed_clock.clk, framed_clock.data);
    f = $fopen("framed_clock.txt");
    #200000;
    for (i = 0; i < 40; i = i + 1) begin
      $fdisplay(f, "%0d", value);
      bitout(0);
      for (k = 0; k < 8; k = k + 1) bitout(value[k]);
      bitout(~^value);
      bitout(1);
      #(700000 + (i % 5) * 130000);
      value = {value[6:0], value[7] ^ value[5] ^ value[4] ^ value[3]};
    end
    $fclose(f); $finish;
  end
endmodule
