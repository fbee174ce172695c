// SPDX-License-Identifier: GPL-3.0-or-later
// A sender of asynchronous characters at 13,392.857 Bd (6 MHz / 448), 8 data bits, odd parity, inverted line; the
// words and their order come from a linear feedback register. Expected values go to async.txt, one a line.
`timescale 1ns/1ns
module async;
  reg line = 0;                 // inverted: rests low
  reg other = 0;
  reg [7:0] value = 8'h5A;
  integer i, k, f;
  reg p;
  always #7300 other = ~other;  // a line that has nothing to do with it
  initial begin
    $dumpfile("async.vcd"); $dumpvars(0, async.line, async.other);
    f = $fopen("async.txt");
    #300000;
    for (i = 0; i < 60; i = i + 1) begin
      $fdisplay(f, "%0d", value);
      line = 1; #74667;
      p = 1;
      for (k = 0; k < 8; k = k + 1) begin line = ~value[k]; p = p ^ value[k]; #74667; end
      line = ~p; #74667;
      line = 0; #74667;
      if (i % 6 == 5) #1900000;
      value = {value[6:0], value[7] ^ value[5] ^ value[4] ^ value[3]};
    end
    $fclose(f); #500000 $finish;
  end
endmodule
