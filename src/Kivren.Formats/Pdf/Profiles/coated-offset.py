# Measurements of a printing condition that is free for any use: the solids of ISO 12647-2 on coated paper, overprinted by the model of
# Yule, Nielsen and Neugebauer, with the dot gain of offset. Writes offset.ti3, of which a profile maker makes coated-offset.icc:
#   colprof -D "Kivren coated offset" -C "Made for Kivren; free for any use" -ql -bl -kr -l300 -L95 offset
import itertools, math
W=(95.047,100.0,108.883); D50=(96.422,100.0,82.521)
def lab2xyz(L,a,b):
    fy=(L+16)/116; fx=fy+a/500; fz=fy-b/200
    g=lambda t: t**3 if t**3>0.008856 else (t-16/116)/7.787
    return tuple(w*g(f) for w,f in zip(D50,(fx,fy,fz)))
def xyz2lab(X,Y,Z):
    g=lambda t: t**(1/3) if t>0.008856 else 7.787*t+16/116
    fx,fy,fz=(g(v/w) for v,w in zip((X,Y,Z),D50))
    return 116*fy-16,500*(fx-fy),200*(fy-fz)
P={(0,0,0):(95,0,-2),(1,0,0):(55,-37,-50),(0,1,0):(48,74,-3),(0,0,1):(89,-5,93),(1,1,0):(24,17,-46),(1,0,1):(50,-68,27),(0,1,1):(47,68,48),(1,1,1):(23,0,0)}
n=1.7
prim={}
for c,m,y in P:
    prim[(c,m,y,0)]=lab2xyz(*P[(c,m,y)])
    # Black over a solid: a little darker than black alone.
    L,a,b=P[(c,m,y)]
    prim[(c,m,y,1)]=lab2xyz(16-7*(1-L/95),a*0.06,b*0.06)
def gain(t,g=0.14): return min(1,t+4*g*t*(1-t))
def mix(cmyk):
    d=[gain(v,0.17 if i==3 else 0.14) for i,v in enumerate(cmyk)]
    out=[0,0,0]
    for combo,xyz in prim.items():
        w=1
        for on,v in zip(combo,d): w*=v if on else 1-v
        for k in range(3): out[k]+=w*xyz[k]**(1/n)
    return tuple(v**n for v in out)
steps=[0,.2,.4,.6,.8,1]
rows=[]
for c,m,y in itertools.product(steps,steps,steps):
    for k in (0,.2,.4,.6,.8,1):
        rows.append((c,m,y,k))
out=open('offset.ti3','w')
out.write('CTI3\n\nDESCRIPTOR "Coated offset, modelled"\nORIGINATOR "Kivren"\nDEVICE_CLASS "OUTPUT"\nCOLOR_REP "CMYK_LAB"\nNUMBER_OF_FIELDS 8\nBEGIN_DATA_FORMAT\nSAMPLE_ID CMYK_C CMYK_M CMYK_Y CMYK_K LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\n')
out.write('NUMBER_OF_SETS %d\nBEGIN_DATA\n'%len(rows))
for i,r in enumerate(rows):
    l=xyz2lab(*mix(r))
    out.write('%d %.2f %.2f %.2f %.2f %.4f %.4f %.4f\n'%(i+1,*[v*100 for v in r],*l))
out.write('END_DATA\n')
