// SPDX-License-Identifier: GPL-3.0-or-later
// Two sides on one open-drain wire: a host that asks with 8 bits and a device that answers with 24, cells of 4 us
// (device: 4.2 us), a short low pulse is a 1, a stop bit ends each. Expected: side and value in pulse_width.txt.
`timescale 1ns/1ns
module pulse_width;
  reg host = 1, device = 1;
  wire wired = host & device;
  reg [23:0] answer = 24'h12A5F0;
  reg [7:0] ask = 8'h41;
  integer i, k, f;
  initial begin
    $dumpfile("pulse_width.vcd"); $dumpvars(0, pulse_width.wired);
    f = $fopen("pulse_width.txt");
    #100000;
    for (i = 0; i < 30; i = i + 1) begin
      $fdisplay(f, "1 %0d", ask);
      for (k = 7; k >= 0; k = k - 1)
        if (ask[k]) begin host = 0; #1000 host = 1; #3000; end else begin host = 0; #3000 host = 1; #1000; end
      host = 0; #1000 host = 1; #7000;
      $fdisplay(f, "2 %0d", answer);
      for (k = 23; k >= 0; k = k - 1)
        if (answer[k]) begin device = 0; #1050 device = 1; #3150; end else begin device = 0; #3150 device = 1; #1050; end
      device = 0; #1050 device = 1;
      #(1500000 + (i % 4) * 70000);
      answer = {answer[22:0], answer[23] ^ answer[22] ^ answer[21] ^ answer[16]};
      ask = ask + 8'h1D;
    end
    $fclose(f); $finish;
  end
endmodule
